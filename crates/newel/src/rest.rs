//! Rest: a character that stands still on unchanged terrain is not computed again.
//!
//! A tick that left a character at rest exactly as it was would do so again, from the same place, on the same terrain,
//! with the same tuning. Where the terrain says which terrain it is near by ([`Terrain::stamp`]), the state remembers that much, and
//! the next such tick only lets time pass: the same bits for a thirtieth of the cost and less.

use glam::{DVec3, Vec3};

use crate::coarse::CoarseDirection;
use crate::command::Command;
use crate::drive::intent::Intent;
use crate::phase::Mode;
use crate::region::Region;
use crate::run::has_grid_moment;
use crate::state::{Rest, State};
use crate::step::Tick;

impl Tick<'_> {
    /// True where this tick would change nothing but the clock, as the one before it did not.
    pub(crate) fn is_rest_as_before(&self, state: &State, intent: &Intent, commands: &[Command]) -> bool {
        let wants_nothing = || {
            intent.buttons == state.held
                && intent.stance == state.asked.last()
                && (self.modifiers.can_crouch || !state.stance.is_low())
                && intent.changes().next().is_none()
                && commands.is_empty()
                && intent.wants_nothing(state, self.tuning)
        };
        state.rest.0 != 0 && wants_nothing() && self.rest_of(state).0 == state.rest.0
    }

    /// The memory after a slice from `before` to `after` that queried the terrain in `asked`.
    pub(crate) fn remember(&self, before: &State, after: &State, asked: &Region) -> Rest {
        let at_rest = after.mode == Mode::Ground && after.velocity == DVec3::ZERO;
        // A waiting stance tests again.
        let unchanged = at_rest
            // A grid moment may still change it.
            && has_grid_moment(before.clock, after.clock)
            && after.axis == after.up
            && after.pressed == CoarseDirection::default()
            && !after.asked.waits()
            && after.carried == Vec3::ZERO
            && after.immersed.is_zero()
            && !after.marks.under_water()
            && State { clock: before.clock, ..*after } == *before
            && Region::about(after, self.tuning).holds(asked);
        if unchanged { self.rest_of(after) } else { Rest::default() }
    }

    /// Everything that decides whether standing still here goes on as it is; zero where the terrain does not say.
    fn rest_of(&self, state: &State) -> Rest {
        let within = Region::about(state, self.tuning).corners();
        let Some(terrain) = self.terrain.stamp(self.when(), within) else { return Rest::default() };
        // After SplitMix64 by Steele, Lea and Flood, 2014: every bit of every word reaches every bit of the result.
        let mix = |hash: u64, word: u64| {
            let mixed = (hash ^ word).wrapping_mul(0xBF58_476D_1CE4_E5B9);
            (mixed ^ (mixed >> 29)).wrapping_mul(0x94D0_49BB_1331_11EB).rotate_left(17)
        };
        let place = state.position.to_array().map(f64::to_bits);
        let up = state.up.to_array().map(|v| u64::from(v.to_bits()));
        let words =
            [terrain, self.tuning.stamp(), u64::from(state.keeps.is_plane())].into_iter().chain(place).chain(up);
        let hash = words.fold(0x9E37_79B9_7F4A_7C15, mix);
        // Zero remembers nothing.
        Rest((hash >> 32) as u32 | 1)
    }
}
