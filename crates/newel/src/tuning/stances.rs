//! The tables of stances and of the slide.

/// When what could not rise for want of room does so.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "snake_case"))]
pub enum Rise {
    /// By itself, as soon as there is room.
    #[default]
    AtOnce,
    /// When it is asked to again.
    Asked,
}

/// The point that stays in place when the shape changes in the air. On the ground the feet do.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Anchor {
    /// The feet: the head is drawn in.
    Feet,
    /// The middle.
    #[default]
    Centre,
    /// The head: the feet are drawn up.
    Head,
}

/// How stances change.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Stances {
    /// When what could not rise for want of room does so.
    pub rise: Rise,
    /// The point that stays in place when the shape changes in the air.
    pub anchor: Anchor,
    /// The time constant, seconds, with which the drawn eyes and shape follow the shape itself, which changes at once.
    pub ease: f32,
}

/// Effect of a button in a low stance.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Allows {
    /// Nothing: it is refused.
    No,
    /// It stands up instead.
    #[default]
    Stand,
    /// The ability of the button, in the low stance.
    Yes,
}

/// Effect of leaving the ground in a low stance.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Aloft {
    /// It stands up.
    Stand,
    /// The character stays low; what is not cannot get so before it lands.
    #[default]
    Keep,
    /// It changes in the air as on the ground.
    Any,
}

/// A stance lower than standing.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct LowStance {
    /// Height from the feet to the top of the head, metres; two thirds of the standing height if left out, lying flat a third.
    pub height: Option<f32>,
    /// Radius of the capsule, or half the width of the box, metres; as standing if left out, but at most half the height of a
    /// capsule.
    pub radius: Option<f32>,
    /// How high the eyes are, as a part of its height.
    pub eyes: f32,
    /// How much of the top speed there is, as a factor.
    pub speed: f32,
    /// Effect of the jump button.
    pub jump: Allows,
    /// Effect of the sprint button.
    pub sprint: Allows,
    /// Effect of the dash button.
    pub dash: Allows,
    /// Effect of leaving the ground.
    pub air: Aloft,
    /// True where it never walks off an edge: it stops at the lip, or goes along it.
    pub guard: bool,
}

/// Which way a slide leads at first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Along {
    /// The way it was going.
    #[default]
    Velocity,
    /// The way it heads; the way it was going without a heading.
    Heading,
}

/// Sliding low along the ground out of a run.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Slide {
    /// The least speed that it can be begun at, metres per second.
    pub from: f32,
    /// The speed it begins with on top of that, metres per second, up to the fastest.
    pub burst: f32,
    /// Faster than this, metres per second, neither the burst nor a slope makes it.
    pub fastest: f32,
    /// Which way it leads at first.
    pub along: Along,
    /// How fast speed is lost on the level, metres per second squared.
    pub deceleration: f32,
    /// How much of gravity's pull along a slope it feels, as a factor.
    pub slope: f32,
    /// How fast it turns toward the heading, degrees per second.
    pub steer: f32,
    /// It ends below this speed, metres per second.
    pub ends_below: f32,
    /// True where letting go of the button ends it.
    pub release: bool,
    /// True where it can be jumped out of, which ends it; else it cannot.
    pub jump: bool,
    /// True where leaving the ground ends it; else it goes on where it lands.
    pub air: bool,
    /// True where meeting a wall more than half head-on ends it; else it goes along it.
    pub wall: bool,
    /// Seconds from its end to the next.
    pub cooldown: f32,
}

impl LowStance {
    /// A crouch to two thirds of the standing height.
    #[must_use]
    pub fn crouch() -> LowStance {
        LowStance {
            height: None,
            radius: None,
            eyes: 0.9,
            speed: 0.5,
            jump: Allows::Stand,
            sprint: Allows::Stand,
            dash: Allows::Stand,
            air: Aloft::Keep,
            guard: false,
        }
    }

    /// Lying flat, a third of the standing height.
    #[must_use]
    pub fn prone() -> LowStance {
        LowStance {
            eyes: 0.7,
            speed: 0.2,
            sprint: Allows::No,
            dash: Allows::No,
            air: Aloft::Stand,
            guard: true,
            ..LowStance::crouch()
        }
    }
}

impl Default for LowStance {
    fn default() -> LowStance {
        LowStance::crouch()
    }
}
impl Default for Stances {
    fn default() -> Stances {
        Stances { rise: Rise::AtOnce, anchor: Anchor::Centre, ease: 0.06 }
    }
}
impl Default for Slide {
    fn default() -> Slide {
        Slide {
            from: 5.0,
            burst: 2.0,
            fastest: 9.0,
            along: Along::Velocity,
            deceleration: 6.0,
            slope: 1.0,
            steer: 40.0,
            ends_below: 2.0,
            release: true,
            jump: true,
            air: true,
            wall: true,
            cooldown: 0.3,
        }
    }
}
