//! Time without progress: the player tries more than one direction, and the character comes nowhere.

use newel::glam::{DVec3, Vec3};

use super::moment::Moment;

/// The character has come somewhere once it is this far from where it was, in metres.
const SOMEWHERE: f64 = 0.05;
/// No progress for longer than this is a finding, in seconds.
const LONG: f64 = 2.0;
/// The player has tried another direction where two differ by more than this, as a cosine: 60 degrees.
const ANOTHER: f32 = 0.5;
/// The other direction counts once it has been tried for this long, in seconds.
const TRIED: f64 = 0.5;
/// A stick pressed less than this does not count as trying.
const LEAST_WISH: f32 = 0.3;

/// Since when the character has come nowhere.
#[derive(Debug, Default)]
pub(super) struct Progress {
    since: Option<Spell>,
}

#[derive(Debug, Clone, Copy)]
struct Spell {
    time: f64,
    place: DVec3,
    first: Vec3,
    /// Since when another direction than the first is tried.
    another_since: Option<f64>,
    found: bool,
}

impl Progress {
    /// Looks at one tick. Returns the seconds without progress once in each spell that is too long.
    pub fn look(&mut self, moment: &Moment<'_>) -> Option<f64> {
        let (state, wish) = (moment.after, moment.wish);
        let tries = wish.length() >= LEAST_WISH && state.mode.is_on_ground();
        let gone = self.since.is_some_and(|spell| (state.position - spell.place).length() > SOMEWHERE);
        if !tries || gone {
            self.since = None;
        }
        if !tries {
            return None;
        }
        let (time, place) = (state.clock, state.position);
        let begun = Spell { time, place, first: wish, another_since: None, found: false };
        let spell = self.since.get_or_insert(begun);
        if spell.another_since.is_none() && wish.dot(spell.first) < ANOTHER * wish.length() * spell.first.length() {
            spell.another_since = Some(time);
        }
        let seconds = time - spell.time;
        let has_tried = spell.another_since.is_some_and(|since| time - since > TRIED);
        let is_new = seconds > LONG && has_tried && !spell.found;
        spell.found |= is_new;
        is_new.then_some(seconds)
    }
}
