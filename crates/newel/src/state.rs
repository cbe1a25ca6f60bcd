//! The state of one character: plain data.

use glam::{DVec3, Vec3};

use crate::activity::Activity;
use crate::coarse::{CoarseDirection, CoarsePart, CoarseVelocity};
use crate::contact::key::KnownWalls;
use crate::drive::buttons::Buttons;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::marks::Marks;
use crate::phase::{Mode, Phase};
use crate::plane::Plane;
use crate::stance::{Asked, Stance};
use crate::support::Underfoot;
use crate::tuning::Tuning;

/// Memory of a resting character, which makes the next tick cheaper. No part of the character's identity: always equal to
/// any other, left out of hashes, and nothing is lost where a game saves states without it.
#[derive(Clone, Copy, Debug, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Rest(pub(crate) u32);

impl PartialEq for Rest {
    fn eq(&self, _other: &Rest) -> bool {
        true
    }
}

/// The part of a [`Character`](crate::Character) that is the same for every game. Plain data: copy it, compare it, save it.
///
/// The default is a character at rest in the air at the world's origin, upright along +y.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
// A state that an older version saved lacks newer fields.
#[cfg_attr(feature = "serde", serde(default))]
pub struct State {
    /// Where the feet are: the lowest point of the shape, in the world, metres; of the round of its feet, while it is not upright.
    pub position: DVec3,
    /// Metres per second in the world. Exactly zero at rest on what stands still.
    pub velocity: DVec3,
    /// The character's own time, seconds since it was spawned.
    pub clock: f64,
    /// Unit vector against gravity.
    pub up: Vec3,
    /// Unit vector from its feet to its head: up, but for a while after gravity has changed.
    pub axis: Vec3,
    /// Where its own gravity pulls, and how strongly: 1 long is what the tuning makes of it. Zones may pull elsewhere.
    pub weight: Vec3,
    /// Unit vector square to up: where the body looks.
    pub facing: Vec3,
    /// Ground underfoot and its support; or the hold of the hands.
    pub ground: Underfoot,
    /// Mode of movement.
    pub mode: Mode,
    /// Phase of the mode.
    pub phase: Phase,
    /// Present stance.
    pub stance: Stance,
    /// Requested stance, and whether it waits for room.
    pub asked: Asked,
    /// Whether it sprints, moves, clings: what is so or not.
    pub marks: Marks,
    /// Jumps in the air since it left the ground.
    pub extra_jumps: u8,
    /// Dashes in the air since it left the ground.
    pub air_dashes: u8,
    /// The buttons held when the last tick ended: a press is a button that is down now and was not then.
    pub held: Buttons,
    /// The velocity of the moving body it stands on, as part of `velocity`; zero off it.
    pub carried: Vec3,
    /// Where the middle of its foot's round stands in the axes of the body it stands on, to a rounding; zero off it.
    pub foot: Vec3,
    /// Data that only the present mode needs.
    pub activity: Activity,
    /// Flow at the character, as last sampled: the wind, or the current from knee deep on.
    pub flow: CoarseVelocity,
    /// The part of its height that is under water, as last sampled.
    pub immersed: CoarsePart,
    /// The plane it keeps to, if any.
    pub keeps: Plane,
    /// Direction of the crushing obstacle toward the character; none while nothing crushes it.
    pub pressed: CoarseDirection,
    /// The walls that it slides along, at most four.
    pub walls: KnownWalls,
    /// Memory of a resting character; of no meaning to a game.
    pub rest: Rest,
    /// The factor that zones put on gravity, as last sampled.
    pub gravity_factor: f32,
    /// Seconds in which the ground it lost can still be jumped from; below 0 minus the seconds that it has been in the air since.
    pub coyote: f32,
    /// Seconds in which a press that came too early still jumps.
    pub buffer: f32,
    /// Remaining time of the present phase, seconds. After a wall jump, the time without steering.
    pub phase_left: f32,
    /// Factor on the top speed while shaken, or on the steering while thrown.
    pub control: f32,
    /// Seconds until the next dash.
    pub cooldown: f32,
    /// Seconds until the next slide.
    pub slide_cooldown: f32,
    /// How long the eyes have been under water, seconds; 0 while they are not.
    pub time_under: f32,
    /// How high over the feet its eyes are drawn, metres: eased toward where its stance has them.
    pub eyes: f32,
    /// How far the body has turned to the left, radians, since its facing was last sampled.
    pub turned: f32,
    /// Where it is in two steps of its feet: 0 as the first foot comes down, 0.5 as the other does.
    pub gait: f32,
}

impl Default for State {
    fn default() -> State {
        State {
            position: DVec3::ZERO,
            velocity: DVec3::ZERO,
            clock: 0.0,
            up: Vec3::Y,
            axis: Vec3::Y,
            weight: Vec3::NEG_Y,
            facing: Vec3::NEG_Z,
            ground: Underfoot::default(),
            mode: Mode::Air,
            phase: Phase::Plain,
            stance: Stance::Stand,
            asked: Asked::always(Stance::Stand),
            marks: Marks::default(),
            extra_jumps: 0,
            air_dashes: 0,
            held: Buttons::NONE,
            carried: Vec3::ZERO,
            foot: Vec3::ZERO,
            activity: Activity::begin(Mode::Air, 0.0),
            flow: CoarseVelocity::default(),
            immersed: CoarsePart::default(),
            keeps: Plane::default(),
            pressed: CoarseDirection::default(),
            walls: KnownWalls::default(),
            rest: Rest::default(),
            gravity_factor: 1.0,
            coyote: 0.0,
            buffer: 0.0,
            phase_left: 0.0,
            control: 1.0,
            cooldown: 0.0,
            slide_cooldown: 0.0,
            time_under: 0.0,
            eyes: 0.0,
            turned: 0.0,
            gait: 0.0,
        }
    }
}

impl State {
    /// This state, which a game has written over `shown`, with the fields of `exact` where it has not.
    pub(crate) fn over(&self, shown: &State, exact: &State) -> State {
        macro_rules! written {
            ($($field:ident),*) => {
                State { $($field: if self.$field == shown.$field { exact.$field } else { self.$field }),* }
            };
        }
        written!(
            position,
            velocity,
            clock,
            up,
            axis,
            weight,
            facing,
            ground,
            mode,
            phase,
            stance,
            asked,
            marks,
            extra_jumps,
            air_dashes,
            held,
            carried,
            foot,
            activity,
            flow,
            immersed,
            keeps,
            pressed,
            walls,
            rest,
            gravity_factor,
            coyote,
            buffer,
            phase_left,
            control,
            cooldown,
            slide_cooldown,
            time_under,
            eyes,
            turned,
            gait
        )
    }
}

/// The part of its height from which on what is in water is moved by it, rather than by the wind.
const KNEE: f32 = 0.25;

impl State {
    /// True on ground that carries it: in [`Mode::Ground`], [`Mode::Slide`], and where a game's own mode walks.
    #[must_use]
    pub fn is_on_ground(&self) -> bool {
        self.mode.is_on_ground() || (self.mode == Mode::Custom && matches!(self.activity, Activity::Ground { .. }))
    }

    /// True from knee deep in water on: what flows where it is, is the water.
    #[must_use]
    pub fn is_knee_deep(&self) -> bool {
        self.immersed.part() >= KNEE
    }

    /// The wind where it is, m/s in the world, as last sampled; none from knee deep in water on.
    #[must_use]
    pub fn wind(&self) -> DVec3 {
        if self.is_knee_deep() { DVec3::ZERO } else { self.flow.velocity() }
    }

    /// The current where it is, m/s in the world, as last sampled; none up to the knees.
    #[must_use]
    pub fn current(&self) -> DVec3 {
        if self.is_knee_deep() { self.flow.velocity() } else { DVec3::ZERO }
    }

    /// Where its feet are drawn, metres: its position, but while it is not upright.
    #[must_use]
    pub fn feet(&self, tuning: &Tuning) -> DVec3 {
        self.drawn_at(tuning.shape_in(self.stance).pivot())
    }

    /// The same: along its axis from what stays as up changes, which is `pivot` metres over its feet.
    pub(crate) fn drawn_at(&self, pivot: f32) -> DVec3 {
        if self.axis == self.up { self.position } else { self.position + ((self.up - self.axis) * pivot).as_dvec3() }
    }

    /// True where every number is usable: what every tick asks.
    pub(crate) fn is_finite(&self) -> bool {
        // Zero times a finite number is zero; times anything else it is not a number, and then so is the sum.
        let double = |v: DVec3| v.dot(DVec3::ZERO);
        let single = |v: Vec3| v.dot(Vec3::ZERO);
        let places = double(self.position) + double(self.velocity);
        let directions = single(self.ground.normal)
            + single(self.ground.touch)
            + single(self.carried)
            + single(self.foot)
            + single(self.keeps.normal)
            + single(self.weight);
        let activity = self.activity.numbers().1;
        let numbers = [self.gravity_factor, self.coyote, self.buffer];
        let timers = [
            self.phase_left,
            self.cooldown,
            self.turned,
            self.slide_cooldown,
            self.time_under,
            self.eyes,
            self.control,
        ];
        let rest = activity.iter().chain(&numbers).chain(&timers).map(|x| x * 0.0).sum::<f32>();
        let clocks = self.clock * 0.0;
        places + clocks + f64::from(directions + rest) == 0.0 && (0.0..1.0).contains(&self.gait)
    }

    /// The first field that is not finite, if one is: a game may have written into it.
    pub(crate) fn not_finite(&self) -> Option<&'static str> {
        if self.is_finite() {
            return None;
        }
        let fields = [
            ("character.position", self.position.is_finite()),
            ("character.velocity", self.velocity.is_finite()),
            ("character.clock", self.clock.is_finite()),
            ("character.ground", self.ground.touch.is_finite() && self.ground.normal.is_finite()),
            ("character.weight", self.weight.is_finite()),
            ("character.carried", self.carried.is_finite()),
            ("character.foot", self.foot.is_finite()),
            ("character.keeps", self.keeps.normal.is_finite()),
            ("character.activity", self.activity.numbers().1.iter().all(|v| v.is_finite())),
            ("character.gravity_factor", self.gravity_factor.is_finite()),
            ("character.coyote", self.coyote.is_finite()),
            ("character.buffer", self.buffer.is_finite()),
            ("character.phase_left", self.phase_left.is_finite()),
            ("character.control", self.control.is_finite()),
            ("character.cooldown", self.cooldown.is_finite()),
            ("character.slide_cooldown", self.slide_cooldown.is_finite()),
            ("character.time_under", self.time_under.is_finite()),
            ("character.eyes", self.eyes.is_finite()),
            ("character.turned", self.turned.is_finite()),
            ("character.gait", (0.0..1.0).contains(&self.gait)),
        ];
        fields.into_iter().find(|(_, finite)| !finite).map(|(field, _)| field)
    }
}

impl Fingerprinted for State {
    fn feed(&self, print: &mut Fingerprint) {
        for v in [self.position, self.velocity] {
            v.to_array().iter().for_each(|x| print.f64(*x));
        }
        print.f64(self.clock);
        let ground = self.ground;
        let singles =
            [self.up, self.axis, self.weight, self.facing, ground.normal, ground.touch, self.carried, self.foot];
        for v in singles.into_iter().chain([self.keeps.normal]) {
            v.to_array().iter().for_each(|x| print.f32(*x));
        }
        let timers = [self.coyote, self.buffer, self.phase_left, self.cooldown, self.slide_cooldown, self.control];
        let factors = [self.gravity_factor, self.turned, self.gait, self.time_under, self.eyes];
        timers.iter().chain(&factors).for_each(|x| print.f32(*x));
        self.flow.0.iter().for_each(|x| print.u64(*x as u64));
        self.pressed.0.iter().for_each(|x| print.u64(u64::from(*x)));
        self.activity.feed(print);
        print.u64(self.ground.body());
        print.u64(u64::from(self.ground.surface));
        print.u64(self.ground.support as u64);
        print.u64(self.mode as u64);
        print.u64(self.phase as u64);
        print.u64(self.stance as u64);
        self.asked.feed(print);
        self.walls.feed(print);
        print.u64(u64::from(self.marks.0));
        print.u64(u64::from(self.immersed.0));
        [self.extra_jumps, self.air_dashes].iter().for_each(|x| print.u64(u64::from(*x)));
        print.u64(u64::from(self.held.bits()));
    }
}
