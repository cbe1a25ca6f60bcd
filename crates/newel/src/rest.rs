//! Rest: a character that stands still on unchanged terrain is not computed again.
//!
//! A tick that left a character at rest exactly as it was would do so again, from the same place, on the same terrain,
//! with the same tuning. The state remembers that much. Where the terrain says which terrain it is near by ([`Terrain::stamp`]), the next
//! such tick only lets time pass: the same bits for a thirtieth of the cost and less. Where it does not say, what is near by is gathered
//! and compared: half the cost.

use glam::{DVec3, Vec3};

use crate::coarse::CoarseDirection;
use crate::command::Command;
use crate::drive::intent::Intent;
use crate::phase::Mode;
use crate::region::Region;
use crate::run::has_grid_moment;
use crate::run::reach::box_at_rest;
use crate::state::{Rest, State};
use crate::step::Tick;
use crate::terrain::{Facet, Patch, Round};
use crate::workspace::Workspace;

impl Tick<'_> {
    /// True where this tick would change nothing but the clock, as the one before it did not. With storage to look at terrain that does
    /// not say which it is; without, no such terrain is rested on.
    pub(crate) fn is_rest_as_before(
        &self,
        state: &State,
        intent: &Intent,
        commands: &[Command],
        work: Option<&mut Workspace>,
    ) -> bool {
        let wants_nothing = || {
            intent.buttons == state.held
                && intent.stance == state.asked.last()
                && (self.modifiers.can_crouch || !state.stance.is_low())
                && intent.changes().next().is_none()
                && commands.is_empty()
                && intent.wants_nothing(state, self.tuning)
        };
        state.rest.0 != 0
            && wants_nothing()
            && self.stamp(state).or_else(|| self.looked_at(work?, state)).is_some_and(|rest| rest.0 == state.rest.0)
    }

    /// The memory after a slice from `before` to `after` that queried the terrain in `asked`; and, where it was all of a tick, gathered
    /// `patch`.
    pub(crate) fn remember(&self, before: &State, after: &State, asked: &Region, patch: Option<&Patch>) -> Rest {
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
        let known = if unchanged { self.stamp(after).or_else(|| self.seen_in(patch?, after)) } else { None };
        known.unwrap_or_default()
    }

    /// The memory of standing still here on terrain that says which it is.
    fn stamp(&self, state: &State) -> Option<Rest> {
        let within = Region::about(state, self.tuning).corners();
        self.terrain.stamp(self.when(), within).map(|terrain| self.rest_on(terrain, state))
    }

    /// The same on terrain that does not say, gathered for it.
    fn looked_at(&self, work: &mut Workspace, state: &State) -> Option<Rest> {
        let (mut near, _) =
            work.lend(self.terrain, self.when().about(0.0, self.dt), self.figure(state), state.position);
        let (low, high) = self.box_at_rest(state);
        near.gather(low, high);
        self.seen_in(near.patch, state)
    }

    /// The same, where just that has been gathered.
    fn seen_in(&self, patch: &Patch, state: &State) -> Option<Rest> {
        let is_all = patch.origin() == state.position && patch.bounds() == self.box_at_rest(state);
        patch.print_at_rest().filter(|_| is_all).map(|content| self.rest_on(content, state))
    }

    fn box_at_rest(&self, state: &State) -> (Vec3, Vec3) {
        box_at_rest(&self.tuning.shape_in(state.stance), state.up, self.tuning.limits_in(state.stance).step)
    }

    /// Everything that decides whether standing still here goes on as it is.
    fn rest_on(&self, terrain: u64, state: &State) -> Rest {
        let place = state.position.to_array().map(f64::to_bits);
        let up = state.up.to_array().map(|v| u64::from(v.to_bits()));
        let words =
            [terrain, self.tuning.stamp(), u64::from(state.keeps.is_plane())].into_iter().chain(place).chain(up);
        let hash = words.fold(SEED, mix);
        // Zero remembers nothing.
        Rest((hash >> 32) as u32 | 1)
    }
}

impl Patch {
    /// A hash of all that was gathered, every bit of it; `None` where some of it may act on what stands still, or moves.
    fn print_at_rest(&self) -> Option<u64> {
        if self.is_moving() || !self.zones().is_empty() {
            return None;
        }
        let pair = |a: f32, b: f32| u64::from(a.to_bits()) | u64::from(b.to_bits()) << 32;
        let facets = self.facets().iter().flat_map(|facet| {
            let Facet { a, b, c, normal, offset, .. } = *facet;
            let kind = u64::from(facet.id) | u64::from(facet.surface) << 32 | u64::from(facet.one_way) << 48;
            [
                pair(a.x, a.y),
                pair(a.z, b.x),
                pair(b.y, b.z),
                pair(c.x, c.y),
                pair(c.z, offset),
                pair(normal.x, normal.y),
                pair(normal.z, facet.uneven),
                self.body_name(facet.body),
                kind,
            ]
        });
        let rounds = self.rounds().iter().flat_map(|round| {
            let Round { a, b, radius, .. } = *round;
            let kind = u64::from(round.id) | u64::from(round.surface) << 32;
            [pair(a.x, a.y), pair(a.z, b.x), pair(b.y, b.z), pair(radius, 0.0), self.body_name(round.body), kind]
        });
        Some(facets.chain(rounds).fold(SEED, mix))
    }
}

const SEED: u64 = 0x9E37_79B9_7F4A_7C15;

/// After SplitMix64 by Steele, Lea and Flood, 2014: every bit of every word reaches every bit of the result.
fn mix(hash: u64, word: u64) -> u64 {
    let mixed = (hash ^ word).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    (mixed ^ (mixed >> 29)).wrapping_mul(0x94D0_49BB_1331_11EB).rotate_left(17)
}
