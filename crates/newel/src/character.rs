//! The state of one character: plain data.

use core::ops::{Deref, DerefMut};

use glam::{DVec3, Vec3};

use crate::coarse::{CoarseDirection, CoarsePart, CoarseVelocity};
use crate::contact::surroundings::Figure;
use crate::drive::buttons::Buttons;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::marks::Marks;
use crate::moment::Remainder;
use crate::plane::Plane;
use crate::stance::{Asked, Stance};
use crate::support::Underfoot;
use crate::terrain::{Terrain, When};
use crate::tuning::Tuning;
use crate::under_way::UnderWay;
use crate::walls::KnownWalls;
use crate::workspace::Workspace;

/// A clear place is looked for within so many times the character's height.
const CLEAR_REACH: f32 = 4.0;

/// What moves the character now.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Mode {
    /// On ground that carries it.
    Ground,
    /// Falling, jumping, or sliding down what is too steep.
    #[default]
    Air,
    /// Low along ground that carries it, on the speed it had.
    Slide,
    /// Floating: gravity does not pull.
    Hover,
    /// On a ladder, a pole or a wall that gives hold.
    Climb,
    /// Hanging from a ledge, on the way up onto one, or over what is low.
    Ledge,
    /// In water that carries it.
    Swim,
    /// A game's own: see [`CustomMode`](crate::CustomMode).
    Custom,
}

impl Mode {
    /// Every mode there is.
    pub const ALL: [Mode; 8] =
        [Mode::Ground, Mode::Slide, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom];

    /// The modes that this one can change into at once. Into any other it changes by way of the ground or the air, in the same moment:
    /// the table of them, with their causes, stands in ARCHITECTURE.md.
    #[must_use]
    pub fn leads_to(self) -> &'static [Mode] {
        match self {
            Mode::Ground => &[Mode::Slide, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom],
            Mode::Air => &[Mode::Ground, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom],
            Mode::Swim => &[Mode::Ground, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Custom],
            Mode::Slide | Mode::Custom => &[Mode::Ground, Mode::Air],
            Mode::Ledge => &[Mode::Ground, Mode::Air, Mode::Climb],
            Mode::Hover => &[Mode::Ground, Mode::Air, Mode::Custom],
            Mode::Climb => &[Mode::Ground, Mode::Air, Mode::Ledge],
        }
    }

    /// True on ground that carries it.
    #[must_use]
    pub fn is_on_ground(self) -> bool {
        matches!(self, Mode::Ground | Mode::Slide)
    }

    /// True where it holds on to something by its hands.
    #[must_use]
    pub fn holds_on(self) -> bool {
        matches!(self, Mode::Climb | Mode::Ledge)
    }
}

/// What a mode is about just now.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Phase {
    /// Nothing in particular: walking, standing, falling.
    #[default]
    Plain,
    /// A jump on its way up.
    Rising,
    /// A jump on its way up whose button has been let go.
    Released,
    /// A jump past its top.
    Over,
    /// Sliding down a wall it presses against.
    WallSlide,
    /// A dash.
    Dash,
    /// Shaken by a hard landing.
    Shaken,
    /// Thrown by the game, with its steering weakened or locked.
    Thrown,
    /// The same, until it meets a wall.
    ThrownAtWall,
    /// Has let go of what it held, and takes no hold for a moment.
    LetGo,
    /// Sliding down a ladder or a pole.
    SlidesDown,
    /// From where it caught a ledge to where it hangs.
    Catch,
    /// On the way up onto a ledge.
    PullUp,
    /// On the way over what is low.
    Vault,
    /// On the way down over the edge it stood at.
    LetDown,
    /// Dropping through a one-way floor: none is there for it.
    DropsThrough,
    /// In the air over the edge that a slide went off, to go on where it lands.
    Slide,
}

impl Phase {
    /// What a person would call it.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Phase::Plain => "plain",
            Phase::Rising => "rising",
            Phase::Released => "released",
            Phase::Over => "past top",
            Phase::WallSlide => "wall slide",
            Phase::Dash => "dash",
            Phase::Slide => "slide",
            Phase::LetGo => "let go",
            Phase::DropsThrough => "dropping through",
            Phase::SlidesDown => "sliding down",
            Phase::Catch => "catching",
            Phase::PullUp => "pulling up",
            Phase::Vault => "vaulting",
            Phase::LetDown => "letting itself down",
            Phase::Shaken => "shaken",
            Phase::Thrown => "thrown",
            Phase::ThrownAtWall => "thrown at a wall",
        }
    }

    /// True while the game has thrown it and its steering is weakened or locked.
    #[must_use]
    pub fn is_thrown(self) -> bool {
        matches!(self, Phase::Thrown | Phase::ThrownAtWall)
    }

    /// True on a way of its own along a ledge, which lasts as long as it is tuned to.
    #[must_use]
    pub fn is_ledge_move(self) -> bool {
        matches!(self, Phase::Catch | Phase::PullUp | Phase::Vault | Phase::LetDown)
    }

    /// True on the way up of a jump.
    #[must_use]
    pub fn is_rising(self) -> bool {
        matches!(self, Phase::Rising | Phase::Released)
    }
}

/// What a tick remembers of standing still: a help to the next tick and no part of what a character is. Always equal to
/// any other, left out of hashes, and nothing is lost where a game saves states without it.
#[derive(Clone, Copy, Debug, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Rest(pub(crate) u32);

impl PartialEq for Rest {
    fn eq(&self, _other: &Rest) -> bool {
        true
    }
}

/// The part of a [`Character`] that is the same for every game. Plain data: copy it, compare it, save it.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
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
    /// What it stands on, and why that carries or does not; or what it holds on to.
    pub ground: Underfoot,
    /// What moves it now.
    pub mode: Mode,
    /// What that is about just now.
    pub phase: Phase,
    /// What shape it has.
    pub stance: Stance,
    /// What shape it was asked to have, and whether that still waits for room.
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
    /// A height in metres and a speed along up in m/s, by what moves it. In the air, how far it is below the highest point of its
    /// flight. Hovering, how far below the height it keeps, and how fast it wants to rise. On the ground what a crest would have made
    /// of it, had it not held on: how high over the ground it would be, and how fast away from it (zero without `ground.fly_off`). On a
    /// way along a ledge two heights: how far it goes up, and ahead. Swimming, how high waves lift the surface
    /// over its level, and how fast.
    pub flight: [f32; 2],
    /// What flows where it is, as last sampled: the wind; from knee deep in water on, the current.
    pub flow: CoarseVelocity,
    /// The part of its height that is under water, as last sampled.
    pub immersed: CoarsePart,
    /// The plane it keeps to, if any.
    pub keeps: Plane,
    /// Where what crushes it pressed from, toward the character; none while nothing does.
    pub pressed: CoarseDirection,
    /// Which way it is stepping over something too blunt for its foot; of no meaning unless it is in mid-step.
    pub striding: CoarseDirection,
    /// How far that way its feet come down, metres; 0 unless it is in mid-step. On the way they are level.
    pub stride: f32,
    /// The walls that it slides along, at most four.
    #[cfg_attr(feature = "serde", serde(default))]
    pub walls: KnownWalls,
    /// What the last tick remembers of standing still; of no meaning to a game.
    #[cfg_attr(feature = "serde", serde(default))]
    pub rest: Rest,
    /// The factor that zones put on gravity, as last sampled.
    pub gravity_factor: f32,
    /// Seconds in which the ground it lost can still be jumped from; below 0 minus the seconds that it has been in the air since.
    pub coyote: f32,
    /// Seconds in which a press that came too early still jumps.
    pub buffer: f32,
    /// Seconds that the dash lasts, or that it is shaken or thrown, or until it can steer again after a jump off a wall.
    pub phase_left: f32,
    /// What is left of its top speed while it is shaken, or of its steering while it is thrown, as a factor.
    pub control: f32,
    /// Seconds until the next dash.
    pub cooldown: f32,
    /// Seconds until the next slide.
    pub slide_cooldown: f32,
    /// How far this slide has gone, metres; while its eyes are under water how long they have been, seconds; else 0.
    pub slid: f32,
    /// How high over the feet its eyes are drawn, metres: eased toward where its stance has them.
    pub eyes: f32,
    /// How far the body has turned to the left, radians, since its facing was last sampled.
    pub turned: f32,
    /// Where it is in two steps of its feet: 0 as the first foot comes down, 0.5 as the other does.
    pub gait: f32,
}

/// One character: its [`State`], whatever typed state a game's own modes keep in it, and since when its motion has been under way.
///
/// It reads like its state: `hero.position`, `hero.mode`. Whatever a game writes into it holds from the last tick's end on.
#[derive(Clone, Debug)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Character<M = ()> {
    pub(crate) state: State,
    pub(crate) custom: M,
    /// Its motion between two moments at which it is decided.
    #[cfg_attr(feature = "serde", serde(default = "nothing"))]
    pub(crate) under_way: Option<Box<UnderWay<M>>>,
    /// What rounding to whole units has left of its clock.
    #[cfg_attr(feature = "serde", serde(default))]
    pub(crate) remainder: Remainder,
}

#[cfg(feature = "serde")]
fn nothing<M>() -> Option<Box<UnderWay<M>>> {
    None
}

impl<M> Character<M> {
    /// A character in `state`, with the state of a game's own modes.
    #[must_use]
    pub fn with(state: State, custom: M) -> Character<M> {
        Character { state, custom, under_way: None, remainder: Remainder::default() }
    }

    /// What every game has, as of the last tick's end.
    #[must_use]
    pub fn state(&self) -> &State {
        &self.state
    }

    /// What this game adds, as of the last tick's end.
    #[must_use]
    pub fn custom(&self) -> &M {
        &self.custom
    }

    /// The same, to be written into.
    pub fn custom_mut(&mut self) -> &mut M {
        self.decide_anew();
        &mut self.custom
    }

    /// Its motion under way, if it is.
    fn motion(&self) -> Option<&UnderWay<M>> {
        self.under_way.as_deref().filter(|motion| motion.goes_on)
    }

    /// Has its motion decided anew from the last tick's end on, as if it had been put there: no part of the motion under way is kept.
    ///
    /// A game has no need of this; it is what writing into a character does. A tick rate stays out of the motion as long as nobody writes.
    pub fn decide_anew(&mut self) {
        if let Some(motion) = &mut self.under_way {
            motion.goes_on = false;
        }
    }
}

impl<M: PartialEq> PartialEq for Character<M> {
    fn eq(&self, other: &Character<M>) -> bool {
        (&self.state, &self.custom, self.motion()) == (&other.state, &other.custom, other.motion())
    }
}

impl From<State> for Character {
    fn from(state: State) -> Character {
        Character::with(state, ())
    }
}

impl<M> Deref for Character<M> {
    type Target = State;
    fn deref(&self) -> &State {
        &self.state
    }
}

impl<M> DerefMut for Character<M> {
    fn deref_mut(&mut self) -> &mut State {
        self.decide_anew();
        &mut self.state
    }
}

impl<M: Fingerprinted> Character<M> {
    /// A 64-bit hash of every bit of the state: equal states have equal hashes, on every machine.
    #[must_use]
    pub fn hash(&self) -> u64 {
        let mut print = Fingerprint::new();
        self.state.feed(&mut print);
        self.custom.feed(&mut print);
        if let Some(motion) = self.motion() {
            motion.feed(&mut print);
        }
        print.value()
    }
}

/// The part of its height from which on what is in water is moved by it, rather than by the wind.
const KNEE: f32 = 0.25;

impl State {
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

    /// How long its eyes have been under water, seconds.
    #[must_use]
    pub fn time_under(&self) -> f32 {
        if self.marks.under_water() { self.slid } else { 0.0 }
    }

    /// Where its feet are drawn, metres: its position, but while it is not upright.
    #[must_use]
    pub fn feet(&self, tuning: &Tuning) -> DVec3 {
        self.drawn_at(tuning.shape_in(self.stance).pivot())
    }

    /// The place nearest to this one where the character is clear of everything, within four times its height, in metres: to put a character
    /// there that was crushed. `None` where there is none. The place may be on the other side of whatever presses.
    ///
    /// `when` says where bodies are: they are asked for where the tick begins. Costs up to some milliseconds among many triangles, so a
    /// game calls it once, when it moves the character.
    ///
    /// ```
    /// # use newel::{Character, Mesh, State, Tuning, When, glam::DVec3};
    /// let (low, high) = (DVec3::new(-1.0, 0.0, -1.0), DVec3::new(1.0, 3.0, 1.0));
    /// let (pillar, tuning) = (Mesh::cuboid(low, high)?, Tuning::walker());
    /// let beside = Character::spawn(&pillar, &tuning, [2.0, 0.0, 0.0])?;
    /// let inside = State { position: DVec3::new(0.9, 0.0, 0.0), ..*beside.state() };
    /// let clear = inside.nearest_clear(&pillar, When::tick(0, 0.0), &tuning);
    /// assert!(clear.is_some_and(|place| place.x > 1.2));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn nearest_clear(&self, terrain: &dyn Terrain, when: When, tuning: &Tuning) -> Option<DVec3> {
        let mut work = Workspace::new();
        let (mut near, _) = work.lend(terrain, when, Figure::of(self, tuning), self.position);
        near.nearest_clear(CLEAR_REACH * near.shape.height)
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
        let numbers = [self.flight[0], self.flight[1], self.stride, self.gravity_factor, self.coyote, self.buffer];
        let timers =
            [self.phase_left, self.cooldown, self.turned, self.slide_cooldown, self.slid, self.eyes, self.control];
        let rest = numbers.iter().chain(&timers).map(|x| x * 0.0).sum::<f32>();
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
            ("character.flight", self.flight.iter().all(|v| v.is_finite())),
            ("character.stride", self.stride.is_finite()),
            ("character.gravity_factor", self.gravity_factor.is_finite()),
            ("character.coyote", self.coyote.is_finite()),
            ("character.buffer", self.buffer.is_finite()),
            ("character.phase_left", self.phase_left.is_finite()),
            ("character.control", self.control.is_finite()),
            ("character.cooldown", self.cooldown.is_finite()),
            ("character.slide_cooldown", self.slide_cooldown.is_finite()),
            ("character.slid", self.slid.is_finite()),
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
        let flight = self.flight;
        let factors =
            [flight[0], flight[1], self.gravity_factor, self.turned, self.gait, self.stride, self.slid, self.eyes];
        timers.iter().chain(&factors).for_each(|x| print.f32(*x));
        self.flow.0.iter().for_each(|x| print.u64(*x as u64));
        self.pressed.0.iter().chain(&self.striding.0).for_each(|x| print.u64(u64::from(*x)));
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
