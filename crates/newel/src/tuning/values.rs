//! The raw numbers of a tuning, table by table.

use super::climb::{Climb, Ledge, Vault};
use super::hover::Hover;
use super::impact::Impact;
use super::presets;
use super::stances::{LowStance, Slide, Stances};
use super::swim::Swim;
use crate::shape::Form;

/// The raw numbers of a [`Tuning`](crate::Tuning): metres, seconds, degrees. Change what you like, then
/// [`Tuning::new`](crate::Tuning::new) checks it all.
///
/// Ranges stand in [`FIELDS`](crate::FIELDS), with what each number means. A table that may be absent is an ability:
/// without it that is impossible.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct TuningValues {
    /// How large the character is.
    pub size: Size,
    /// Moving on the ground.
    pub ground: OnGround,
    /// Moving in the air.
    pub air: InAir,
    /// Jumping; without it there is no jump of any kind.
    pub jump: Option<Jump>,
    /// Sprinting; without it the button does nothing.
    pub sprint: Option<Sprint>,
    /// Slowing a fall by pressing against a wall.
    pub wall_slide: Option<WallSlide>,
    /// Jumping off a wall.
    pub wall_jump: Option<WallJump>,
    /// A short burst of speed.
    pub dash: Option<Dash>,
    /// How stances change.
    pub stance: Stances,
    /// Crouching.
    pub crouch: Option<LowStance>,
    /// Lying flat.
    pub prone: Option<LowStance>,
    /// Sliding low along the ground out of a run; needs `crouch`.
    pub slide: Option<Slide>,
    /// Floating; without it the button does nothing.
    pub hover: Option<Hover>,
    /// Climbing ladders, poles and walls that give hold.
    pub climb: Option<Climb>,
    /// Getting up onto ledges, and hanging from them.
    pub ledge: Option<Ledge>,
    /// Going over what is low at a run.
    pub vault: Option<Vault>,
    /// Swimming; without it water only slows, and what is deep is walked through.
    pub swim: Option<Swim>,
    /// How hard it comes down, and what that does.
    pub impact: Impact,
    /// Turning the body.
    pub turn: Turn,
    /// Response of a stick.
    pub stick: Stick,
    /// Steps of the feet, and what counts as moving.
    pub gait: Gait,
}

/// How large the character is.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Size {
    /// Capsule, or box for a character that keeps to a plane.
    pub form: Form,
    /// Height from the feet to the top of the head, metres.
    pub height: f32,
    /// Radius of the capsule, or half the width of the box, metres.
    pub radius: f32,
    /// How high the eyes are, as a part of the height.
    pub eyes: f32,
}

impl Size {
    /// How high the straight of the shape reaches, metres.
    pub(crate) fn straight(&self) -> f32 {
        if self.form == Form::Box { self.height } else { self.height - self.radius }
    }
}

/// Moving on the ground.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct OnGround {
    /// Top speed along the ground, metres per second.
    pub speed: f32,
    /// How fast speed is gained, metres per second squared.
    pub acceleration: f32,
    /// How fast speed is lost without input, or with a stick that asks for less, metres per second squared.
    pub deceleration: f32,
    /// How fast speed is lost while it runs against the heading, metres per second squared.
    pub reversal: f32,
    /// Instead of the three rates: speed approaches what is wanted with this time constant, seconds, faster at first
    /// and slower at the end.
    pub ease: Option<f32>,
    /// The time constant without input, seconds; that of `ease` if left out.
    pub ease_stop: Option<f32>,
    /// How much of the top speed there is sideways to the facing, as a factor; not where the body turns toward movement.
    pub sideways: f32,
    /// The same straight backward.
    pub backward: f32,
    /// The steepest slope that can be walked on, degrees.
    pub steepest: f32,
    /// The highest step that is taken in stride, up or down, metres.
    pub step: f32,
    /// How much of the radius the foot's middle may be beyond an edge before it slips off, 0 to 1.
    pub overhang: f32,
    /// How much of the top speed there is straight up the steepest slope that can be walked on, as a factor; on gentler
    /// slopes, and on a slant, in proportion to the rise.
    pub uphill: f32,
    /// The same straight down it.
    pub downhill: f32,
    /// How much of the speed a step of the full step height costs, 0 to 1; lower ones cost in proportion.
    pub step_loss: f32,
    /// How high over the ground a crest may throw it, metres, before it flies off; it always holds on if left out.
    pub fly_off: Option<f32>,
    /// How much of the wind's speed is added to what it wants to walk, as a factor; 0 stands against any.
    pub windage: f32,
    /// Factor on the top speed if the character is fully under water; less of it costs in proportion.
    pub wading: f32,
    /// A current this fast moves nobody who is all under water, metres per second, and what is under only in part withstands one as much
    /// faster; the rest of a stronger one takes it along.
    pub withstands: f32,
    /// How long one-way floors let it through once it drops through one, seconds.
    pub drops: f32,
}

/// Moving in the air.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct InAir {
    /// How fast falling gains speed, metres per second squared; `jump.time_down` overrides it.
    pub gravity: f32,
    /// Top speed across that steering reaches, as a factor of the ground's.
    pub speed: f32,
    /// How fast speed across is gained toward the heading, metres per second squared.
    pub acceleration: f32,
    /// How fast speed across is lost without input, metres per second squared.
    pub deceleration: f32,
    /// How fast speed above the air's top is lost while heading on, metres per second squared; 0 keeps it.
    pub excess_loss: f32,
    /// The fastest fall, metres per second; none if left out.
    pub terminal: Option<f32>,
    /// How much of a moving body's velocity is kept on leaving it, 0 to 1.
    pub carried: f32,
    /// How long in the air what clings, or is pulled toward what it stands on, is pulled toward a surface in reach, seconds; then its own
    /// gravity pulls until it lands.
    pub clings: f32,
    /// How strongly the air holds what moves against it, per second: what is left of a speed against the wind falls by `1/e` in each
    /// `1/drag` seconds. A jump on its way up rises as tuned whatever this is. 0 for none.
    pub drag: f32,
}

/// Jumping.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Jump {
    /// How high the feet rise while the button is held, metres.
    pub height: f32,
    /// How long it takes to get there, seconds; if left out, as long as the air's gravity makes it take.
    pub time_to_top: Option<f32>,
    /// How long a fall from that height takes, seconds: sets the gravity of every fall; if left out, the air's gravity is.
    pub time_down: Option<f32>,
    /// How high they rise if the button is let go at once, metres: later, between the two. Letting go does nothing if
    /// left out.
    pub tap_height: Option<f32>,
    /// How many more jumps there are in the air, 0 to 16.
    pub extra: f32,
    /// How high those rise, metres; as high as the first if left out.
    pub extra_height: Option<f32>,
    /// Seconds after losing the ground in which it can still be jumped from.
    pub coyote: f32,
    /// Seconds that a press too early waits for the ground.
    pub buffer: f32,
    /// 0 jumps straight up, 1 along the ground's normal, between is between; the height is the same.
    pub lean: f32,
    /// Slower than this along up, metres per second, about the top of a jump, gravity is less; 0 for never.
    pub hang_speed: f32,
    /// Factor on gravity there.
    pub hang_gravity: f32,
    /// How far it may be moved aside, metres, to rise past the corner of something overhead; 0 for not at all.
    pub nudge: f32,
}

/// Sprinting: with the button held, another top speed and acceleration.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Sprint {
    /// Top speed, metres per second.
    pub speed: f32,
    /// How fast speed is gained, metres per second squared.
    pub acceleration: f32,
    /// How far the heading may be from the facing, degrees to either side; 180 for any way.
    pub cone: f32,
    /// The same once it sprints, so that what begins to strafe goes on sprinting or not; as `cone` if left out.
    pub keeps: Option<f32>,
    /// How much of the sprint's top speed there is sideways to the facing, as a factor; as the ground's if left out.
    pub sideways: Option<f32>,
    /// How much of it there is backward; as the ground's if left out.
    pub backward: Option<f32>,
    /// True where a sprint goes on in the air.
    pub in_air: bool,
}

/// Sliding down walls: heading into a wall while falling along it.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct WallSlide {
    /// The fastest fall along the wall, metres per second.
    pub speed: f32,
    /// How fast a faster fall is slowed to that, metres per second squared.
    pub braking: f32,
}

/// Jumping off walls.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct WallJump {
    /// How high the feet rise, metres.
    pub height: f32,
    /// The speed away from the wall, metres per second.
    pub away: f32,
    /// How near the wall has to be, metres.
    pub reach: f32,
    /// Seconds after it without steering, so that it leads away from the wall.
    pub pause: f32,
}

/// A dash: straight ahead at a constant speed, whatever pulls.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Dash {
    /// How far it leads, metres.
    pub distance: f32,
    /// How long it lasts, seconds.
    pub time: f32,
    /// Seconds from its end to the next.
    pub cooldown: f32,
    /// How many there are between leaving the ground and landing, 0 to 16.
    pub in_air: f32,
    /// How much of its speed is left at its end, 0 to 1.
    pub keeps: f32,
}

/// Target of the facing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Toward {
    /// Where it is heading; where it looks when there is no heading stays as it is.
    #[default]
    Movement,
    /// Where the player looks.
    View,
    /// Left or right, at once: along its plane, or sideways to the view.
    Sides,
    /// Nothing: it keeps its facing.
    Nothing,
}

/// Turning the body.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Turn {
    /// Target of the facing, unless an intent overrides it.
    pub toward: Toward,
    /// How fast, degrees per second.
    pub rate: f32,
    /// Instead of the rate: the angle left falls with this time constant, seconds.
    pub ease: Option<f32>,
    /// How fast the whole body turns upright after gravity has changed, degrees per second.
    pub righting: f32,
}

/// Into how many directions a stick is pressed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
pub enum Ways {
    /// Any direction.
    #[default]
    Any,
    /// Ahead, back, left and right.
    Four,
    /// Those and the diagonals.
    Eight,
}

/// Response of a stick, in every heading that comes from one.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Stick {
    /// Less than this far from its middle is none, 0 to 0.95.
    pub dead_zone: f32,
    /// This far is full speed, 0.05 to 1.
    pub full_zone: f32,
    /// The power that what is between is raised to: 1 is straight, more is finer near the middle.
    pub curve: f32,
    /// The directions it knows.
    pub ways: Ways,
}

/// Steps of the feet, and what counts as moving.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Gait {
    /// The way of two footsteps, metres; 0 for none.
    pub stride: f32,
    /// True where a turn-about begins with the first foot again.
    pub restart: bool,
    /// From this speed on it is moving, metres per second.
    pub moving: f32,
    /// Below this it has stopped, metres per second.
    pub still: f32,
}

impl Default for TuningValues {
    fn default() -> TuningValues {
        presets::walker()
    }
}
impl Default for Size {
    fn default() -> Size {
        presets::walker().size
    }
}
impl Default for OnGround {
    fn default() -> OnGround {
        presets::walker().ground
    }
}
impl Default for InAir {
    fn default() -> InAir {
        presets::walker().air
    }
}
impl Default for Turn {
    fn default() -> Turn {
        presets::walker().turn
    }
}

impl Default for Jump {
    fn default() -> Jump {
        Jump {
            height: 1.0,
            time_to_top: None,
            time_down: None,
            tap_height: None,
            extra: 0.0,
            extra_height: None,
            coyote: 0.1,
            buffer: 0.1,
            lean: 0.0,
            hang_speed: 0.0,
            hang_gravity: 0.5,
            nudge: 0.0,
        }
    }
}
impl Default for Sprint {
    fn default() -> Sprint {
        Sprint {
            speed: 7.0,
            acceleration: 30.0,
            cone: 180.0,
            keeps: None,
            sideways: None,
            backward: None,
            in_air: true,
        }
    }
}
impl Default for WallSlide {
    fn default() -> WallSlide {
        WallSlide { speed: 2.0, braking: 40.0 }
    }
}
impl Default for WallJump {
    fn default() -> WallJump {
        WallJump { height: 1.2, away: 5.0, reach: 0.15, pause: 0.15 }
    }
}
impl Default for Dash {
    fn default() -> Dash {
        Dash { distance: 3.0, time: 0.2, cooldown: 0.5, in_air: 1.0, keeps: 0.3 }
    }
}
impl Default for Stick {
    fn default() -> Stick {
        Stick { dead_zone: 0.0, full_zone: 1.0, curve: 1.0, ways: Ways::Any }
    }
}
impl Default for Gait {
    fn default() -> Gait {
        Gait { stride: 1.5, restart: false, moving: 0.2, still: 0.1 }
    }
}
