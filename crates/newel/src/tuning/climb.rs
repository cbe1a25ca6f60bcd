//! Climbing what gives hold, getting onto ledges, and over what is low.

use super::Size;

/// Condition for taking hold, or for getting onto a ledge.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Takes {
    /// A heading into it where it is touched, or the grab button.
    #[default]
    Touch,
    /// The grab button, pressed or held.
    Button,
}

/// Climbing ladders, poles and walls that give hold.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Climb {
    /// Condition for taking hold.
    pub takes: Takes,
    /// Top speed up, metres per second.
    pub up: f32,
    /// Top speed down, metres per second.
    pub down: f32,
    /// Top speed sideways and round poles, metres per second.
    pub aside: f32,
    /// How fast speed is gained, metres per second squared.
    pub acceleration: f32,
    /// How fast it is lost without input, metres per second squared.
    pub deceleration: f32,
    /// The most that a heading may lead past what is taken hold of, degrees.
    pub cone: f32,
    /// How high over the feet the hands are, as a part of the height: there must be hold before them.
    pub hands: f32,
    /// The least slope that is climbed rather than walked, degrees.
    pub flattest: f32,
    /// The most that what is climbed may lean over, degrees past upright.
    pub overhang: f32,
    /// How far apart the rungs of a ladder are, metres: without input it comes to rest at one. 0 for anywhere.
    pub rung: f32,
    /// Top speed sliding down a ladder or a pole with a crouch asked for, metres per second; 0 lets go instead.
    pub slide: f32,
    /// How fast that speed is gained, metres per second squared.
    pub slide_acceleration: f32,
    /// Speed away at a jump off it, metres per second.
    pub jump_away: f32,
    /// Height of that jump, metres.
    pub jump_height: f32,
    /// How long it takes to get over the top of it onto a floor, seconds.
    pub over: f32,
    /// How long after letting go it takes no hold again, seconds.
    pub pause: f32,
}

impl Default for Climb {
    fn default() -> Climb {
        Climb {
            takes: Takes::Touch,
            up: 2.0,
            down: 2.5,
            aside: 1.2,
            acceleration: 12.0,
            deceleration: 24.0,
            cone: 45.0,
            hands: 0.75,
            flattest: 60.0,
            overhang: 30.0,
            rung: 0.0,
            slide: 5.0,
            slide_acceleration: 10.0,
            jump_away: 3.5,
            jump_height: 0.5,
            over: 0.6,
            pause: 0.35,
        }
    }
}

/// Getting up onto ledges: from the ground, or caught in the air and hung from.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Ledge {
    /// Condition for getting up or catching it.
    pub takes: Takes,
    /// The lowest ledge got up onto from the ground, metres over the feet; lower ones are steps, or in the way.
    pub lowest: f32,
    /// The highest ledge got up onto from the ground, metres over the feet.
    pub highest: f32,
    /// How long that takes, seconds.
    pub time: f32,
    /// How wide a ledge must be at least, metres.
    pub width: f32,
    /// How deep it must be at least, metres.
    pub depth: f32,
    /// The most that a heading may lead past it, degrees.
    pub cone: f32,
    /// How high the ledge is over the feet that hang from it, metres: at most as high as the straight of the shape.
    pub hang: f32,
    /// How much higher than that a ledge may be and still be caught, metres.
    pub reach: f32,
    /// How much lower than that, metres.
    pub below: f32,
    /// How long the body takes from where it caught to where it hangs, seconds.
    pub catch: f32,
    /// How long it takes to pull itself up, seconds.
    pub pull_up: f32,
    /// Whether a heading that led into it as it was caught pulls up at once; else only a new one, or the jump button.
    pub at_once: bool,
    /// Top speed along the ledge, metres per second; 0 holds still.
    pub aside: f32,
    /// How fast that speed is gained and lost, metres per second squared.
    pub acceleration: f32,
    /// Speed away at a jump off it, metres per second.
    pub jump_away: f32,
    /// Height of that jump, metres.
    pub jump_height: f32,
    /// How long after letting go it catches nothing, seconds.
    pub pause: f32,
}

impl Ledge {
    /// The usual one for a character of this size: the same as [`Ledge::default`], but hung from no higher than its arms are.
    ///
    /// ```
    /// use newel::{Ledge, Tuning, TuningValues};
    /// let small = *Tuning::brisk_hero().values();
    /// let climber = Tuning::new(TuningValues { ledge: Some(Ledge::for_size(&small.size)), ..small })?;
    /// assert!(climber.values().ledge.is_some_and(|ledge| ledge.hang < 1.3));
    /// # Ok::<(), newel::TuningError>(())
    /// ```
    #[must_use]
    pub fn for_size(size: &Size) -> Ledge {
        let usual = Ledge::default();
        Ledge { hang: usual.hang.min(size.straight()), ..usual }
    }
}

impl Default for Ledge {
    fn default() -> Ledge {
        Ledge {
            takes: Takes::Touch,
            lowest: 0.5,
            highest: 1.6,
            time: 0.6,
            width: 0.4,
            depth: 0.3,
            cone: 45.0,
            hang: 1.3,
            reach: 0.5,
            below: 0.3,
            catch: 0.12,
            pull_up: 0.8,
            at_once: false,
            aside: 0.9,
            acceleration: 8.0,
            jump_away: 3.5,
            jump_height: 0.6,
            pause: 0.4,
        }
    }
}

/// Going over what is low and thin at a run.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Vault {
    /// The lowest obstacle, metres over the feet.
    pub lowest: f32,
    /// The highest, metres.
    pub highest: f32,
    /// The deepest, metres.
    pub deepest: f32,
    /// How much lower than where it began the ground beyond may be, metres.
    pub drop: f32,
    /// The slowest that it must go toward it, metres per second; 0 from standing too.
    pub slowest: f32,
    /// The most that its way may lead past it, degrees.
    pub cone: f32,
    /// How long it takes, seconds.
    pub time: f32,
}

impl Default for Vault {
    fn default() -> Vault {
        Vault { lowest: 0.4, highest: 1.1, deepest: 0.6, drop: 1.0, slowest: 2.0, cone: 40.0, time: 0.45 }
    }
}
