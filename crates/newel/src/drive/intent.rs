//! Intents: the input of a tick by a player or an AI.

use glam::Vec3;

use crate::drive::buttons::{Button, Buttons};
use crate::drive::heading::{Bearings, Face, Heading};
use crate::error::TickError;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::stance::Stance;
use crate::state::State;
use crate::tuning::Tuning;

/// The wishes of a player or an AI in a tick: levels, not events. The tick itself works out what was pressed.
///
/// ```
/// use newel::{Button, Intent};
/// use glam::Vec3;
/// let run_and_jump = Intent::toward(Vec3::X).hold(Button::Jump);
/// let tap = Intent::toward(Vec3::X).press_at(0.004, Button::Jump).release_at(0.009, Button::Jump);
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Intent {
    /// Where to go.
    pub heading: Heading,
    /// Where the player looks; need not be unit length.
    pub view: Vec3,
    /// Target of the facing.
    pub face: Face,
    /// The buttons down as the tick begins.
    pub buttons: Buttons,
    /// Requested stance as the tick begins.
    pub stance: Stance,
    /// True where it wants never to walk off an edge, through the whole tick: it stops at the lip, or goes along it.
    #[cfg_attr(feature = "serde", serde(default))]
    pub guard: bool,
    pub(super) changes: [Option<Timed>; Intent::MOST_CHANGES],
}

/// A change of intent inside the tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Timed {
    /// Seconds after the tick's start, at least those of the change before, at most the tick's length.
    pub at: f64,
    /// What changes.
    pub change: Change,
}

/// A change inside a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Change {
    /// A new heading.
    Heading(Heading),
    /// A new view.
    View(Vec3),
    /// Something else to turn toward.
    Face(Face),
    /// A button goes down or up.
    Button(Button, bool),
    /// Another shape to have.
    Stance(Stance),
    /// From now on it wants never to walk off an edge, or no longer.
    Guard(bool),
}

impl Default for Intent {
    fn default() -> Intent {
        Intent {
            heading: Heading::World(Vec3::ZERO),
            view: Vec3::NEG_Z,
            face: Face::Tuned,
            buttons: Buttons::NONE,
            stance: Stance::Stand,
            guard: false,
            changes: [None; Intent::MOST_CHANGES],
        }
    }
}

impl Intent {
    /// The most timed changes that it carries; a tick takes more as [`Command::Change`](crate::Command::Change).
    pub const MOST_CHANGES: usize = 8;

    /// Wants to go where `heading` says.
    #[must_use]
    pub fn new(heading: Heading) -> Intent {
        Intent { heading, ..Intent::default() }
    }

    /// Wants to go along `heading` in the world.
    #[must_use]
    pub fn toward(heading: Vec3) -> Intent {
        Intent::new(Heading::World(heading))
    }

    /// The same looking along `view`.
    #[must_use]
    pub fn looking(self, view: Vec3) -> Intent {
        Intent { view, ..self }
    }

    /// The same with the body turning toward `face`.
    #[must_use]
    pub fn facing(self, face: Face) -> Intent {
        Intent { face, ..self }
    }

    /// The same with `button` down from the start.
    #[must_use]
    pub fn hold(mut self, button: Button) -> Intent {
        self.buttons = self.buttons.with(button, true);
        self
    }

    /// The same wanting to be in `stance`.
    #[must_use]
    pub fn in_stance(self, stance: Stance) -> Intent {
        Intent { stance, ..self }
    }

    /// The same never walking off an edge.
    #[must_use]
    pub fn guarded(self) -> Intent {
        Intent { guard: true, ..self }
    }

    /// The same with `button` going down `at` seconds into the tick.
    #[must_use]
    pub fn press_at(self, at: f64, button: Button) -> Intent {
        self.then(Timed { at, change: Change::Button(button, true) }).unwrap_or(self)
    }

    /// The same with `button` going up `at` seconds into the tick.
    #[must_use]
    pub fn release_at(self, at: f64, button: Button) -> Intent {
        self.then(Timed { at, change: Change::Button(button, false) }).unwrap_or(self)
    }

    /// The same with one more change after those it has, or `None` when it has eight already.
    #[must_use]
    pub fn then(mut self, change: Timed) -> Option<Intent> {
        let free = self.changes.iter_mut().find(|c| c.is_none())?;
        *free = Some(change);
        Some(self)
    }

    /// The same with one more change in its place among those it has: after those that are no later. `None` when it has eight already.
    #[must_use]
    pub fn also(mut self, change: Timed) -> Option<Intent> {
        let (count, sooner) =
            (self.changes().count(), self.changes().take_while(|other| other.at <= change.at).count());
        if count == Intent::MOST_CHANGES {
            return None;
        }
        self.changes[sooner..=count].rotate_right(1);
        self.changes[sooner] = Some(change);
        Some(self)
    }

    /// The same without its timed changes.
    pub(crate) fn without_changes(self) -> Intent {
        Intent { changes: [None; Intent::MOST_CHANGES], ..self }
    }

    /// The same led by a driver: its heading and what to face, at every moment of the tick. Buttons, stance and view stay as they are.
    #[must_use]
    pub fn led(self, heading: Heading, face: Face) -> Intent {
        let led = Intent { heading, face, ..self.without_changes() };
        let kept = self.changes().filter(|timed| !matches!(timed.change, Change::Heading(_) | Change::Face(_)));
        kept.fold(led, |led, timed| led.then(timed).unwrap_or(led))
    }

    /// How far the player presses for a heading at any moment of the tick, 0 to 1: for a driver that has to give way.
    #[must_use]
    pub fn pressed_heading(&self) -> f32 {
        let changed = self.changes().map(|timed| match timed.change {
            Change::Heading(heading) => heading.pressed(),
            _ => 0.0,
        });
        changed.fold(self.heading.pressed(), f32::max)
    }

    /// Where it wants a character in `state` to go at the tick's start: square to up, one long for full speed, at most.
    #[must_use]
    pub fn wish(&self, state: &State, tuning: &Tuning) -> Vec3 {
        Bearings::of(state, self.view, tuning).flat(self.heading)
    }

    /// True where the tick would neither move nor turn a character that stands still.
    pub(crate) fn wants_nothing(&self, state: &State, tuning: &Tuning) -> bool {
        let bearings = Bearings::of(state, self.view, tuning);
        let goal = bearings.face(self.face, tuning.values().turn.toward, Vec3::ZERO, state.position);
        let turns = self.heading.turning(&bearings.stick).is_some_and(|t| t != 0.0);
        // A stick that leads nowhere along the ground may lead up a ladder.
        let climbs = tuning.values().climb.is_some() && self.heading.is_any();
        bearings.flat(self.heading) == Vec3::ZERO && !climbs && !turns && goal.is_none_or(|(to, _)| to == state.facing)
    }

    /// The timed changes, in order.
    pub fn changes(&self) -> impl Iterator<Item = Timed> + '_ {
        self.changes.iter().map_while(|c| *c)
    }

    /// The buttons down when all changes have happened.
    #[must_use]
    pub fn final_buttons(&self) -> Buttons {
        self.changes().fold(self.buttons, |held, timed| match timed.change {
            Change::Button(button, down) => held.with(button, down),
            _ => held,
        })
    }

    /// The stance wanted when all changes have happened.
    #[must_use]
    pub fn final_stance(&self) -> Stance {
        self.changes().fold(self.stance, |stance, timed| match timed.change {
            Change::Stance(other) => other,
            _ => stance,
        })
    }

    /// The same if it is fit for a tick of `dt` seconds, else standing still with no button: time passes all the same
    /// for a client that sends nonsense.
    #[must_use]
    pub fn sanitised(&self, dt: f64) -> Intent {
        let changes: Vec<Timed> = self.changes().collect();
        if self.check(&changes, dt).is_ok() { *self } else { Intent::default() }
    }

    /// Checks what it wants in a tick of `dt` seconds, and all that changes in it.
    pub(crate) fn check(&self, changes: &[Timed], dt: f64) -> Result<(), TickError> {
        self.heading.check("intent.heading")?;
        self.face.check()?;
        check_view(self.view)?;
        let mut last = 0.0;
        for timed in changes {
            if !(timed.at >= last && timed.at <= dt) {
                return Err(TickError::ChangeOutOfOrder { at: timed.at, after: last, dt });
            }
            last = timed.at;
            match timed.change {
                Change::Heading(heading) => heading.check("change.heading")?,
                Change::View(view) => check_view(view)?,
                Change::Face(face) => face.check()?,
                Change::Button(..) | Change::Stance(_) | Change::Guard(_) => {}
            }
        }
        Ok(())
    }
}

fn check_view(view: Vec3) -> Result<(), TickError> {
    if view.is_finite() { Ok(()) } else { Err(TickError::NotFinite { field: "intent.view" }) }
}

impl Fingerprinted for Intent {
    fn feed(&self, print: &mut Fingerprint) {
        self.heading.feed(print);
        self.view.to_array().iter().for_each(|x| print.f32(*x));
        self.face.feed(print);
        print.u64(u64::from(self.buttons.bits()) | (self.stance as u64) << 32 | u64::from(self.guard) << 40);
        self.changes().for_each(|timed| timed.feed(print));
    }
}

impl Fingerprinted for Timed {
    fn feed(&self, print: &mut Fingerprint) {
        print.f64(self.at);
        match self.change {
            Change::Heading(heading) => heading.feed(print),
            Change::View(view) => view.to_array().iter().for_each(|x| print.f32(*x)),
            Change::Face(face) => face.feed(print),
            Change::Button(button, down) => print.u64(2 * button as u64 + u64::from(down)),
            Change::Stance(stance) => print.u64(64 + stance as u64),
            Change::Guard(on) => print.u64(72 + u64::from(on)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn check(intent: &Intent, dt: f64) -> Result<(), TickError> {
        intent.check(&intent.changes().collect::<Vec<_>>(), dt)
    }

    #[test]
    fn changes_must_be_in_order_and_inside_the_tick() {
        let late = Intent::default().press_at(0.02, Button::Jump);
        assert!(check(&late, 0.016).is_err() && check(&late, 0.02).is_ok());
        assert!(check(&late.release_at(0.01, Button::Jump), 0.02).is_err());
        assert_eq!(late.sanitised(0.01), Intent::default());
        let nan = Intent::toward(Vec3::new(f32::NAN, 0.0, 0.0));
        assert_eq!(nan.sanitised(0.01), Intent::default());
    }

    #[test]
    fn a_change_finds_its_place_among_the_others() {
        let tap = Intent::default().press_at(0.002, Button::Jump).release_at(0.006, Button::Jump);
        for at in [0.0, 0.002, 0.004, 0.006, 0.01] {
            let made = tap.also(Timed { at, change: Change::Heading(Heading::World(Vec3::X)) }).unwrap();
            assert!(check(&made, 0.01).is_ok() && made.changes().count() == 3, "{at}");
            assert!(made.changes().any(|c| c.at == at && matches!(c.change, Change::Heading(_))));
        }
        let full = (0..Intent::MOST_CHANGES).fold(tap, |made, _| made.press_at(0.01, Button::Jump));
        assert_eq!(full.also(Timed { at: 0.0, change: Change::Stance(Stance::Crouch) }), None);
    }
}
