//! Gestures: what a key means by how and when it is pressed. Held, toggled, double-tapped, pressed long; in seconds, not ticks.
//!
//! A key is the game's own number. What it is bound to is a button or a stance, and a [`Gesture`] that gives it. Several bindings may
//! share a key, and several keys what they give.

use crate::drive::buttons::{Button, Buttons};
use crate::drive::intent::{Change, Intent, Timed};
use crate::error::TickError;
use crate::stance::Stance;
use crate::state::State;

/// How a key is to be pressed.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Gesture {
    /// While it is down.
    Hold,
    /// From one press to the next.
    Toggle,
    /// While it is down for the second time, pressed again no later than this after the first press.
    DoubleTap {
        /// Seconds, over 0 and at most 10.
        within: f64,
    },
    /// While it is down, once it has been for this long.
    LongPress {
        /// Seconds, over 0 and at most 10.
        after: f64,
    },
}

/// Output of a gesture.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Gives {
    /// A button is down.
    Button(Button),
    /// A stance is wanted; of several the lowest.
    Stance(Stance),
}

/// One key, one gesture, and what it gives.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Binding {
    key: u8,
    gesture: Gesture,
    gives: Gives,
    /// Whether it gives it now.
    on: bool,
}

/// One key as it was last pressed, by the clock of the ticks.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Key {
    key: u8,
    down: bool,
    /// When it last went down, and the time before that; long ago at first.
    pressed: f64,
    before: f64,
}

/// Turns keys into buttons and stances, tick by tick, each at the moment it is due.
///
/// ```
/// use newel::{Button, Gesture, Gestures, Gives, Intent, Stance};
/// # use newel::{Character, Mesh, Tuning};
/// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
/// # let hero = Character::spawn(&level, &Tuning::walker(), [0.0, 0.0, 0.0])?;
/// const C: u8 = 0;
/// const FORWARD: u8 = 1;
/// let mut gestures = Gestures::new()
///     .bind(C, Gesture::Toggle, Gives::Stance(Stance::Crouch))?
///     .bind(C, Gesture::LongPress { after: 0.4 }, Gives::Stance(Stance::Prone))?
///     .bind(FORWARD, Gesture::DoubleTap { within: 0.25 }, Gives::Button(Button::Sprint))?;
/// gestures.key(C, true);                                    // once a frame, for every key that is bound
/// let intent = gestures.fill(Intent::default(), hero.state(), 1.0 / 60.0);   // once a tick
/// assert_eq!(intent.final_stance(), Stance::Crouch);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Gestures {
    bindings: Vec<Binding>,
    keys: Vec<Key>,
    /// Key changes since the last tick: when, seconds into the next, which, and whether it went down.
    waiting: Vec<(f64, u8, bool)>,
    /// The time of the ticks, seconds.
    now: f64,
    /// Output of the last tick.
    told: Buttons,
    told_stance: Stance,
}

/// The longest that a gesture may take, seconds.
const LONGEST: f64 = 10.0;

impl Gestures {
    /// Nothing bound.
    #[must_use]
    pub fn new() -> Gestures {
        Gestures::default()
    }

    /// The same with one more binding.
    ///
    /// # Errors
    /// [`TickError::OutOfRange`] where the gesture's time is not over 0 and at most 10 s.
    pub fn bind(mut self, key: u8, gesture: Gesture, gives: Gives) -> Result<Gestures, TickError> {
        let (field, value) = match gesture {
            Gesture::DoubleTap { within } => ("gesture.within", within),
            Gesture::LongPress { after } => ("gesture.after", after),
            Gesture::Hold | Gesture::Toggle => ("", LONGEST),
        };
        if !(value > 0.0 && value <= LONGEST) {
            return Err(TickError::OutOfRange { field, value, least: 0.0, most: LONGEST });
        }
        self.bindings.push(Binding { key, gesture, gives, on: false });
        if self.keys.iter().all(|k| k.key != key) {
            self.keys.push(Key { key, down: false, pressed: f64::NEG_INFINITY, before: f64::NEG_INFINITY });
        }
        Ok(self)
    }

    /// Whether a key is down in this frame; a change counts from the start of the next tick.
    pub fn key(&mut self, key: u8, down: bool) -> &mut Gestures {
        self.key_at(key, down, 0.0)
    }

    /// The same for a change whose time is known: `at` seconds into the next tick, 0 or more. Where that is further on, it waits for
    /// the tick that it falls into.
    pub fn key_at(&mut self, key: u8, down: bool, at: f64) -> &mut Gestures {
        let known = self.keys.iter().find(|k| k.key == key).map(|k| k.down);
        let last = self.waiting.iter().rev().find(|(_, other, _)| *other == key).map(|w| w.2);
        if known.is_some() && last.or(known) != Some(down) {
            let at = if at > 0.0 { at } else { 0.0 };
            let place = self.waiting.iter().rposition(|w| w.0 <= at).map_or(0, |i| i + 1);
            self.waiting.insert(place, (at, key, down));
        }
        self
    }

    /// The intent for the next tick, `dt` seconds long, with all that the keys give added to what it wants already.
    ///
    /// Toggles follow the character in `state`: what stood up by itself, to jump for example, crouches again at the next press.
    #[must_use]
    pub fn fill(&mut self, intent: Intent, state: &State, dt: f64) -> Intent {
        self.follow(state);
        let mut filled = intent;
        filled.buttons = with_all(filled.buttons, self.told);
        filled.stance = filled.stance.max(self.told_stance);
        let given: Vec<Timed> = intent.changes().collect();
        filled = filled.without_changes();
        let (mut buttons, mut stance) = (intent.buttons, intent.stance);
        let mut given = given.into_iter().peekable();
        // Changes left over from the last tick come first.
        filled = self.tell(filled, 0.0, buttons, stance);
        loop {
            let at = self.next_change(dt);
            while let Some(timed) = given.next_if(|timed| timed.at <= at.unwrap_or(dt)) {
                filled = self.merged(filled, timed, &mut buttons, &mut stance);
            }
            let Some(at) = at else { break };
            self.pass(at);
            filled = self.tell(filled, at, buttons, stance);
        }
        self.waiting.iter_mut().for_each(|w| w.0 -= dt);
        self.now += dt;
        filled
    }

    /// When, seconds into this tick, the next key changes or long press is due.
    fn next_change(&self, dt: f64) -> Option<f64> {
        let key = self.waiting.first().map(|w| w.0).filter(|at| *at < dt);
        let due = self.bindings.iter().filter_map(|b| {
            let Gesture::LongPress { after } = b.gesture else { return None };
            let key = self.keys.iter().find(|k| k.key == b.key && k.down)?;
            Some(key.pressed + after - self.now).filter(|at| !b.on && *at < dt)
        });
        due.chain(key).reduce(f64::min).map(|at| at.max(0.0))
    }

    /// Makes the changes of keys and long presses that are due `at` seconds into this tick.
    fn pass(&mut self, at: f64) {
        let now = self.now + at;
        while let Some((_, number, down)) = self.waiting.first().copied().filter(|w| w.0 <= at) {
            self.waiting.remove(0);
            let Some(key) = self.keys.iter_mut().find(|k| k.key == number) else { continue };
            key.down = down;
            if down {
                (key.before, key.pressed) = (key.pressed, now);
            }
            let key = *key;
            self.bindings.iter_mut().filter(|b| b.key == number).for_each(|b| b.turn(&key));
            // One change at a time: two taps in one moment are two.
            if self.waiting.first().is_some_and(|w| w.1 == number) {
                break;
            }
        }
        for binding in &mut self.bindings {
            let Gesture::LongPress { after } = binding.gesture else { continue };
            let held = self.keys.iter().any(|k| k.key == binding.key && k.down && k.pressed + after <= now + 1e-12);
            binding.on |= held;
        }
    }

    /// Adds what has changed of what is given, on top of what the intent itself holds.
    fn tell(&mut self, mut intent: Intent, at: f64, buttons: Buttons, stance: Stance) -> Intent {
        // Buttons before stances: the key that crouches may at a run be the one that slides.
        for &button in Button::ALL {
            let down = self.gives(Gives::Button(button));
            if down != self.told.has(button) {
                let change = Change::Button(button, down || buttons.has(button));
                let Some(more) = intent.then(Timed { at, change }) else { return intent };
                (intent, self.told) = (more, self.told.with(button, down));
            }
        }
        let lowest = Stance::ALL.into_iter().rev().find(|s| self.gives(Gives::Stance(*s))).unwrap_or_default();
        if lowest != self.told_stance {
            let change = Change::Stance(lowest.max(stance));
            let Some(more) = intent.then(Timed { at, change }) else { return intent };
            (intent, self.told_stance) = (more, lowest);
        }
        intent
    }

    /// A change that the intent had by itself, on top of what the keys give.
    fn merged(&self, intent: Intent, timed: Timed, buttons: &mut Buttons, stance: &mut Stance) -> Intent {
        let change = match timed.change {
            Change::Button(button, down) => {
                *buttons = buttons.with(button, down);
                Change::Button(button, down || self.told.has(button))
            }
            Change::Stance(wanted) => {
                *stance = wanted;
                Change::Stance(wanted.max(self.told_stance))
            }
            other => other,
        };
        intent.then(Timed { change, ..timed }).unwrap_or(intent)
    }

    fn gives(&self, what: Gives) -> bool {
        self.bindings.iter().any(|b| b.on && b.gives == what)
    }

    /// A toggle that the character has given up is switched off.
    fn follow(&mut self, state: &State) {
        let overruled = state.asked.last() == self.told_stance && state.asked.wanted() < self.told_stance;
        if overruled && self.told_stance.is_low() {
            let toggles = self.bindings.iter_mut().filter(|b| b.gesture == Gesture::Toggle);
            toggles.filter(|b| matches!(b.gives, Gives::Stance(_))).for_each(|b| b.on = false);
            let lowest = Stance::ALL.into_iter().rev().find(|s| self.gives(Gives::Stance(*s)));
            self.told_stance = lowest.unwrap_or_default();
        }
    }
}

impl Binding {
    /// The key has just gone down or up.
    fn turn(&mut self, key: &Key) {
        self.on = match self.gesture {
            Gesture::Hold => key.down,
            Gesture::Toggle => self.on != key.down,
            Gesture::DoubleTap { within } => key.down && key.pressed - key.before <= within,
            Gesture::LongPress { .. } => self.on && key.down,
        };
    }
}

fn with_all(buttons: Buttons, more: Buttons) -> Buttons {
    Button::ALL.iter().filter(|b| more.has(**b)).fold(buttons, |all, b| all.with(*b, true))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Character, Mesh, Tuning};

    const KEY: u8 = 7;

    fn state() -> State {
        let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
        Character::spawn(&level, &Tuning::walker(), [0.0, 0.0, 0.0]).unwrap().state
    }

    /// Output for a key that goes down and up at these times, in ticks of `dt`: when what changed, seconds.
    fn played(gestures: Gestures, times: &[f64], dt: f64) -> Vec<(f64, Change)> {
        let (mut gestures, state, mut told) = (gestures, state(), Vec::new());
        for tick in 0..(3.0 / dt) as usize {
            let start = tick as f64 * dt;
            let due = times.iter().enumerate().filter(|(_, t)| **t >= start && **t < start + dt);
            for (i, t) in due {
                gestures.key_at(KEY, i % 2 == 0, t - start);
            }
            let asked = State { asked: told_last(&told), ..state };
            told.extend(gestures.fill(Intent::default(), &asked, dt).changes().map(|c| (start + c.at, c.change)));
        }
        told
    }

    fn told_last(told: &[(f64, Change)]) -> crate::Asked {
        let stances = told.iter().rev().filter_map(|t| if let Change::Stance(s) = t.1 { Some(s) } else { None });
        crate::Asked::always(stances.into_iter().next().unwrap_or_default())
    }

    fn bound(bindings: &[(Gesture, Gives)]) -> Gestures {
        bindings.iter().fold(Gestures::new(), |all, (gesture, gives)| all.bind(KEY, *gesture, *gives).unwrap())
    }

    /// What is bound, when the key goes down and up, and what is to come of it when.
    type Case<'a> = (&'a [(Gesture, Gives)], &'a [f64], Vec<(f64, Change)>);

    #[test]
    fn each_gesture_gives_what_it_gives_at_the_same_moments_at_any_rate() {
        let (crouch, prone) = (Gives::Stance(Stance::Crouch), Gives::Stance(Stance::Prone));
        let (stand, low, flat) =
            (Change::Stance(Stance::Stand), Change::Stance(Stance::Crouch), Change::Stance(Stance::Prone));
        let sprint = |down| Change::Button(Button::Sprint, down);
        let (double, long) = (Gesture::DoubleTap { within: 0.3 }, Gesture::LongPress { after: 0.4 });
        let cases: [Case<'_>; 6] = [
            (&[(Gesture::Hold, crouch)], &[0.211, 0.653], vec![(0.211, low), (0.653, stand)]),
            (&[(Gesture::Toggle, crouch)], &[0.2, 0.3, 0.9, 1.4], vec![(0.2, low), (0.9, stand)]),
            // Tap and tap again, and hold; the second time a little too late.
            (&[(double, prone)], &[0.2, 0.25, 0.499, 0.8], vec![(0.499, flat), (0.8, stand)]),
            (&[(double, prone)], &[0.2, 0.25, 0.501, 0.8], vec![]),
            (
                &[(long, Gives::Button(Button::Sprint))],
                &[0.1, 0.49, 1.0, 1.6],
                vec![(1.4, sprint(true)), (1.6, sprint(false))],
            ),
            // One key for both: a crouch while held, flat on the second press.
            (
                &[(Gesture::Hold, crouch), (double, prone)],
                &[0.2, 0.25, 0.4, 0.7],
                vec![(0.2, low), (0.25, stand), (0.4, flat), (0.7, stand)],
            ),
        ];
        for (bindings, times, expected) in cases {
            for rate in [15.0, 60.0, 144.0, 1000.0] {
                let told = played(bound(bindings), times, 1.0 / rate);
                let same = told.len() == expected.len()
                    && told.iter().zip(&expected).all(|(a, b)| (a.0 - b.0).abs() < 1e-9 && a.1 == b.1);
                assert!(same, "{bindings:?} at {rate} Hz: {told:?} {expected:?}");
            }
        }
    }

    #[test]
    fn toggles_follow_the_character_and_levels_are_never_lost() {
        let mut gestures = bound(&[(Gesture::Toggle, Gives::Stance(Stance::Crouch))]);
        let mut state = state();
        let press = |gestures: &mut Gestures, state: &State| {
            gestures.key(KEY, true).key(KEY, false);
            gestures.fill(Intent::default(), state, 0.01).final_stance()
        };
        assert_eq!(press(&mut gestures, &state), Stance::Crouch);
        // It has stood up, to jump: the next press crouches again.
        state.asked.ask(Stance::Crouch);
        state.asked.want(Stance::Stand);
        assert_eq!(press(&mut gestures, &state), Stance::Crouch);
        // A tick of more changes than an intent holds: what is left comes with the next.
        let mut busy = bound(&[(Gesture::Hold, Gives::Button(Button::Jump))]);
        for i in 0..6 {
            let at = 0.001 * f64::from(i);
            busy.key_at(KEY, true, at).key_at(KEY, false, at + 0.0005);
        }
        busy.key_at(KEY, true, 0.008);
        let first = busy.fill(Intent::default(), &state, 0.01);
        assert_eq!(first.changes().count(), Intent::MOST_CHANGES);
        let second = busy.fill(Intent::default(), &state, 0.01);
        assert!(second.final_buttons().has(Button::Jump), "{second:?}");
        // A button held by the intent itself stays held.
        let mut own = bound(&[(Gesture::Hold, Gives::Button(Button::Jump))]);
        own.key_at(KEY, true, 0.002).key_at(KEY, false, 0.004);
        assert!(own.fill(Intent::default().hold(Button::Jump), &state, 0.01).final_buttons().has(Button::Jump));
    }

    #[test]
    fn a_time_out_of_range_is_named() {
        for bad in [0.0, -1.0, 11.0, f64::NAN] {
            let refused = Gestures::new().bind(KEY, Gesture::LongPress { after: bad }, Gives::Button(Button::Dash));
            assert!(matches!(refused, Err(TickError::OutOfRange { field: "gesture.after", .. })), "{bad}");
        }
    }
}
