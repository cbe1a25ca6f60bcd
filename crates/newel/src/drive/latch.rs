//! Between a device and the ticks: keeps a short press until exactly one tick has used it.

use glam::{Vec2, Vec3};

use crate::drive::buttons::{Button, Buttons};
use crate::drive::heading::{Face, Heading};
use crate::drive::intent::{Change, Intent, Timed};
use crate::math::{carried_over, direction, flatten, turned_left};
use crate::stance::Stance;

/// Fed once a frame, asked once a tick, however frames and ticks fall: a press shorter than a tick is not lost, and a
/// frame of several ticks does not press several times.
///
/// ```
/// use newel::{Button, Latch};
/// let mut latch = Latch::new();
/// latch.stick(0.0, 1.0).hold(Button::Jump, true);   // one frame
/// latch.hold(Button::Jump, false);                  // the next: the key is up again before any tick
/// assert_eq!(latch.take().changes().count(), 2, "the tick still sees it go down, and up");
/// assert_eq!(latch.take().changes().count(), 0, "and only that tick");
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Latch {
    heading: Heading,
    view: Vec3,
    /// The up vector of yaw and pitch: up, and the unit vector square to it that yaw 0 looks along.
    up: Vec3,
    ahead: Vec3,
    face: Face,
    down: Buttons,
    /// As the last tick was told.
    told: Buttons,
    /// Which buttons changed and changed back since then.
    tapped: Buttons,
    /// Requested stance; as the last tick was told; and what it was to have in between, if that came and went since then.
    stance: Stance,
    told_stance: Stance,
    passed_stance: Option<Stance>,
}

impl Default for Latch {
    fn default() -> Latch {
        Latch::new()
    }
}

impl Latch {
    /// Nothing held, looking along -Z.
    #[must_use]
    pub fn new() -> Latch {
        Latch {
            heading: Heading::View(Vec2::ZERO),
            view: Vec3::NEG_Z,
            up: Vec3::Y,
            ahead: Vec3::NEG_Z,
            face: Face::Tuned,
            down: Buttons::NONE,
            told: Buttons::NONE,
            tapped: Buttons::NONE,
            stance: Stance::Stand,
            told_stance: Stance::Stand,
            passed_stance: None,
        }
    }

    /// Where the player looks: `yaw` in radians to the left of -Z, `pitch` upward; where up is not +Y, see [`Latch::follow`].
    pub fn view(&mut self, yaw: f32, pitch: f32) -> &mut Latch {
        let flat = turned_left(self.ahead, self.up, yaw);
        self.view = flat * libm::cosf(pitch) + self.up * libm::sinf(pitch);
        self
    }

    /// Up is this way for the player now, as the character's `up` is: yaw and pitch are told against it from here on, and what was
    /// ahead stays ahead. Call it before [`Latch::view`], each frame in which gravity may have turned. The view is carried along the
    /// short way; where up and down have changed places, about the way it looks.
    ///
    /// ```
    /// use newel::{Latch, glam::Vec3};
    /// let mut latch = Latch::new();
    /// latch.view(0.5, 0.0);
    /// let before = latch.take().view;
    /// latch.follow(Vec3::NEG_Y).view(0.5, 0.0);
    /// assert!((latch.take().view - before).length() < 1e-6, "upside down, and the same ahead");
    /// ```
    pub fn follow(&mut self, up: Vec3) -> &mut Latch {
        let Some(up) = direction(up).filter(|up| up.is_finite()) else { return self };
        let looks = direction(flatten(self.view, self.up)).unwrap_or(self.ahead);
        self.ahead = direction(flatten(carried_over(self.ahead, self.up, up, looks), up)).unwrap_or(self.ahead);
        self.view = carried_over(self.view, self.up, up, looks);
        self.up = up;
        self
    }

    /// Where the player looks, as a vector.
    pub fn view_along(&mut self, view: Vec3) -> &mut Latch {
        self.view = view;
        self
    }

    /// To the right and ahead as the view looks, each -1 to 1.
    pub fn stick(&mut self, right: f32, ahead: f32) -> &mut Latch {
        self.heading = Heading::View(Vec2::new(right, ahead));
        self
    }

    /// A heading in another frame instead of that.
    pub fn heading(&mut self, heading: Heading) -> &mut Latch {
        self.heading = heading;
        self
    }

    /// Target of the facing.
    pub fn face(&mut self, face: Face) -> &mut Latch {
        self.face = face;
        self
    }

    /// Whether `button` is down in this frame.
    pub fn hold(&mut self, button: Button, down: bool) -> &mut Latch {
        let was = self.down.has(button);
        self.down = self.down.with(button, down);
        let back = was != down && down == self.told.has(button);
        if back {
            self.tapped = self.tapped.with(button, true);
        }
        self
    }

    /// Requests a stance, from this frame on.
    pub fn stance(&mut self, stance: Stance) -> &mut Latch {
        if stance != self.stance && stance == self.told_stance {
            self.passed_stance = Some(self.stance);
        }
        self.stance = stance;
        self
    }

    /// The intent of the next tick; presses are handed out once.
    pub fn take(&mut self) -> Intent {
        let mut intent = Intent::new(self.heading).looking(self.view).facing(self.face);
        intent.buttons = self.told;
        for &button in Button::ALL {
            let (told, down) = (self.told.has(button), self.down.has(button));
            let tapped = self.tapped.has(button) && told == down;
            let changes: &[bool] = if tapped {
                &[!told, told]
            } else if told != down {
                &[down]
            } else {
                &[]
            };
            for &to in changes {
                intent = intent.then(Timed { at: 0.0, change: Change::Button(button, to) }).unwrap_or(intent);
            }
        }
        intent.stance = self.told_stance;
        let passed = self.passed_stance.take().filter(|_| self.stance == self.told_stance);
        for to in passed.into_iter().chain(Some(self.stance)).filter(|to| passed.is_some() || *to != self.told_stance) {
            intent = intent.then(Timed { at: 0.0, change: Change::Stance(to) }).unwrap_or(intent);
        }
        self.told = intent.final_buttons();
        self.told_stance = intent.final_stance();
        self.tapped = Buttons::NONE;
        intent
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_stance_that_comes_and_goes_between_two_ticks_is_seen_by_one_of_them() {
        let mut latch = Latch::new();
        latch.stance(Stance::Crouch).stance(Stance::Stand);
        let seen: Vec<Change> = latch.take().changes().map(|timed| timed.change).collect();
        assert_eq!(seen, [Change::Stance(Stance::Crouch), Change::Stance(Stance::Stand)]);
        assert_eq!(latch.take().changes().count(), 0);
        latch.stance(Stance::Prone);
        assert_eq!(latch.take().final_stance(), Stance::Prone);
        let next = latch.take();
        assert_eq!((next.stance, next.changes().count()), (Stance::Prone, 0), "a level, told once");
    }
}
