//! Results of a tick: what happened, and how things stand.

use glam::{DVec3, Vec3};

use crate::factors::Factors;
use crate::math::{angle_left, carried_over};
use crate::phase::{Mode, Phase};
use crate::shape::Shape;
use crate::stance::Stance;
use crate::state::State;
use crate::support::{Ground, Support};
use crate::terrain::Hold;
use crate::tuning::Tuning;

/// Something that happened inside a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Event {
    /// When, by the character's own clock, seconds: exact inside the tick.
    pub time: f64,
    /// Where the feet were then, metres.
    pub place: DVec3,
    /// The velocity then, m/s: before a landing or a bump, after a jump or a launch.
    pub velocity: DVec3,
    /// What.
    pub kind: EventKind,
}

impl Event {
    /// Something that happens to a character as it is.
    pub(crate) fn of(state: &State, kind: EventKind) -> Event {
        Event { time: state.clock, place: state.position, velocity: state.velocity, kind }
    }
}

/// Kind of an event inside a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum EventKind {
    /// It jumped.
    Jumped {
        /// Off what.
        off: Off,
    },
    /// Jump was pressed too early; the press waits for the ground.
    Buffered,
    /// A button was pressed and nothing came of it; for a press that waited, when its time ran out.
    Refused {
        /// What was wanted.
        ability: Ability,
        /// Why it was not done.
        why: Refusal,
    },
    /// A dash began.
    Dashed,
    /// A dash ended.
    DashEnded,
    /// Its shape is another now.
    StanceChanged {
        /// What it was.
        from: Stance,
        /// What it is.
        to: Stance,
    },
    /// There is no room for a stance that was asked for: told once, however long it waits.
    NoRoom {
        /// What was wanted.
        wanted: Stance,
        /// The body that blocks it; 0 is the world.
        body: u64,
        /// Where that is in the way, metres.
        point: DVec3,
    },
    /// A slide began.
    SlideBegan {
        /// How fast, m/s.
        speed: f32,
    },
    /// A slide ended.
    SlideEnded {
        /// How fast it was then, m/s.
        speed: f32,
        /// How far it went along the ground, metres.
        distance: f32,
        /// Why.
        reason: SlideEnd,
    },
    /// It hovers from now on.
    HoverBegan,
    /// It hovers no longer.
    HoverEnded,
    /// It has taken hold of something to climb.
    ClimbBegan {
        /// What it is.
        hold: Hold,
        /// Surface number of the obstacle.
        surface: u16,
    },
    /// It no longer climbs.
    ClimbEnded {
        /// Why.
        reason: HoldEnd,
    },
    /// It caught a ledge in the air.
    Caught {
        /// How high the ledge was over its feet, metres.
        height: f32,
    },
    /// It is on the way up onto a ledge.
    PulledUp {
        /// How high the ledge is over its feet, metres.
        height: f32,
    },
    /// It is on the way over something low.
    Vaulted {
        /// How high that is over its feet, metres.
        height: f32,
    },
    /// It is on its way down over the edge it stood at.
    LetDown {
        /// How far down, metres.
        height: f32,
    },
    /// It is done with a ledge.
    LedgeLeft {
        /// Why.
        reason: HoldEnd,
    },
    /// It fell into water: its feet came through the surface.
    Splashed {
        /// How fast, against the surface and square to it, m/s.
        speed: f32,
    },
    /// It swims from now on.
    SwimBegan,
    /// It swims no longer.
    SwimEnded,
    /// Its eyes are under water from now on.
    WentUnder,
    /// Its eyes are out of the water again.
    Surfaced {
        /// How long they were under, seconds.
        seconds: f32,
    },
    /// A game's own mode moves it from now on.
    CustomBegan,
    /// A game's own mode no longer moves it.
    CustomEnded,
    /// An event of a game's own mode: [`ModeCx::tell`](crate::ModeCx::tell).
    CustomTold {
        /// The number that the mode passed.
        what: u32,
    },
    /// It drops through the one-way floor that it stood on.
    DroppedThrough {
        /// Surface number of the obstacle.
        surface: u16,
    },
    /// A foot came down.
    Footstep {
        /// Which: the first is the one that starts from standing.
        first: bool,
        /// Surface number of the ground.
        surface: u16,
    },
    /// A command to step from cell to cell was obeyed.
    GridStep {
        /// True where all of the way was free; otherwise it stayed where it was.
        taken: bool,
    },
    /// It was moved aside to rise past a corner overhead.
    Nudged {
        /// How far, metres.
        distance: f32,
    },
    /// A jump reached its top.
    Topped,
    /// It came down on ground that carries it.
    Landed {
        /// The speed along down at touch-down, against what it landed on, m/s.
        speed: f32,
        /// How far it fell: from the highest point of its flight, metres.
        fell: f32,
        /// How hard it was: 0 up to the tuned safe speed, 1 from the lethal one on.
        hardness: f32,
        /// The damage that makes, by the tuning's rate.
        damage: f32,
        /// Surface number of the ground.
        surface: u16,
    },
    /// The ground ended, or no longer carries.
    LeftGround {
        /// Support underfoot now.
        support: Support,
    },
    /// It took a step up or down in stride.
    Stepped {
        /// How much higher it stands at once, metres; negative for down.
        height: f32,
    },
    /// The head or a shoulder met something above while rising.
    Bumped {
        /// How fast, against what was met and square to it, m/s.
        speed: f32,
        /// Surface number of the obstacle.
        surface: u16,
    },
    /// It ran or flew into a wall, at least as fast as `impact.told`.
    HitWall {
        /// How fast, against the wall and square to it, m/s.
        speed: f32,
        /// Unit normal of the wall, toward the character.
        normal: Vec3,
        /// Surface number of the obstacle.
        surface: u16,
        /// How hard that was: 0 up to the tuned safe speed, 1 from the lethal one on.
        hardness: f32,
        /// The damage that makes, by the tuning's rate.
        damage: f32,
    },
    /// Gravity pulls another way, by at least some 15 degrees at once.
    GravityTurned {
        /// By how much, degrees, 0 to 180.
        degrees: f32,
    },
    /// It has turned upright again, after gravity had turned.
    Righted,
    /// A command threw it.
    Launched,
    /// A command put it somewhere else.
    Teleported,
    /// It was pushed out of something that it overlapped.
    PushedOut {
        /// How far, metres.
        distance: f32,
    },
    /// The character is caught between surfaces that close in. It stays where it is and overlaps them while this lasts. Reported 120 times a
    /// second until it is free, at every tick rate. The game decides what follows: [`State::nearest_clear`] finds a place to put it.
    Crushed {
        /// The body that presses.
        body: u64,
        /// How much room there is between that and what it is pressed against, metres, where it itself has this much less than it takes.
        room: f32,
    },
    /// It came into a sensor.
    SensorEntered {
        /// The sensor's name.
        sensor: u64,
    },
    /// It left a sensor.
    SensorLeft {
        /// The sensor's name.
        sensor: u64,
    },
    /// It overlaps something and there is no way out near by: told whenever its motion is decided anew, at least 60 times a second.
    Stuck,
    /// Too much happened in one tick; the rest of it was dropped in place.
    TimeDropped {
        /// How much, seconds.
        seconds: f32,
    },
}

/// Why it no longer holds on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum HoldEnd {
    /// It is up, or over.
    Done,
    /// It came down onto the ground.
    Ground,
    /// It let go.
    LetGo,
    /// It jumped.
    Jumped,
    /// The hold ended or is gone.
    Lost,
    /// Something came in its way.
    Blocked,
    /// It went from one to the other: from climbing onto a ledge.
    Ledge,
    /// And from a ledge to climbing.
    Climb,
    /// The game threw it, put it elsewhere or switched this off.
    Interrupted,
}

impl HoldEnd {
    /// Readable text.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            HoldEnd::Done => "up and over",
            HoldEnd::Ground => "on the ground",
            HoldEnd::LetGo => "let go",
            HoldEnd::Jumped => "jumped",
            HoldEnd::Lost => "nothing to hold on to",
            HoldEnd::Blocked => "blocked",
            HoldEnd::Ledge => "onto a ledge",
            HoldEnd::Climb => "climbing",
            HoldEnd::Interrupted => "interrupted",
        }
    }
}

/// Why a slide ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum SlideEnd {
    /// It was slower than `slide.ends_below`.
    Slow,
    /// The button was let go.
    Released,
    /// It jumped.
    Jumped,
    /// The ground ended.
    LeftGround,
    /// It met a wall.
    Wall,
    /// Its eyes went under water.
    Water,
    /// The game threw it, put it elsewhere or switched sliding off.
    Interrupted,
}

impl SlideEnd {
    /// Readable text.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            SlideEnd::Slow => "too slow",
            SlideEnd::Released => "button let go",
            SlideEnd::Jumped => "jumped",
            SlideEnd::LeftGround => "left the ground",
            SlideEnd::Wall => "met a wall",
            SlideEnd::Water => "under water",
            SlideEnd::Interrupted => "interrupted",
        }
    }
}

/// Source of a jump.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Off {
    /// The ground.
    Ground,
    /// The ground it had lost a moment before.
    LostGround,
    /// A wall.
    Wall,
    /// Nothing: one of the jumps in the air.
    Air,
    /// The climbed surface or the ledge.
    Hold,
    /// The water, at its surface.
    Water,
}

/// An ability that a button requests.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Ability {
    /// A jump.
    Jump,
    /// A dash.
    Dash,
    /// A crouch.
    Crouch,
    /// Lying flat.
    Prone,
    /// A slide.
    Slide,
    /// Hovering.
    Hover,
    /// Taking hold.
    Grab,
    /// Dropping through a one-way floor.
    Drop,
    /// A sprint.
    Sprint,
}

/// Why a button did nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Refusal {
    /// The tuning has no such ability.
    NotTuned,
    /// The game's modifiers switch it off.
    SwitchedOff,
    /// In the air, with nothing to jump off and none left.
    InTheAir,
    /// The last one is too recent.
    CoolingDown,
    /// In the middle of a dash.
    Dashing,
    /// Shaken by a hard landing, or thrown, with its input locked.
    Locked,
    /// Seen from above there is no up.
    FromAbove,
    /// It looks across its plane, and heads nowhere in it.
    NoWay,
    /// Its stance is too low for that.
    TooLow,
    /// In the middle of a slide.
    Sliding,
    /// Too slow for that.
    TooSlow,
    /// There is no room for it.
    NoRoom,
    /// Nothing to take hold of in reach.
    NoHold,
    /// It stands on no one-way floor, or on something else as well.
    NothingToDropThrough,
    /// In the middle of a way along a ledge.
    OnItsWay,
    /// It holds on by its hands.
    HoldingOn,
    /// Its eyes are under water.
    UnderWater,
}

impl Refusal {
    /// Readable text.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Refusal::NotTuned => "not in the tuning",
            Refusal::SwitchedOff => "switched off",
            Refusal::InTheAir => "nothing to push off from",
            Refusal::CoolingDown => "too soon after the last",
            Refusal::Dashing => "in a dash",
            Refusal::Locked => "its input is locked",
            Refusal::FromAbove => "no up in a top view",
            Refusal::NoWay => "no way to go in its plane",
            Refusal::TooLow => "too low for that",
            Refusal::Sliding => "in a slide",
            Refusal::TooSlow => "too slow for that",
            Refusal::NoRoom => "no room for that",
            Refusal::NothingToDropThrough => "nothing to drop through",
            Refusal::NoHold => "nothing to take hold of",
            Refusal::HoldingOn => "holding on",
            Refusal::UnderWater => "under water",
            Refusal::OnItsWay => "on its way along a ledge",
        }
    }
}

/// How things stand at the end of a tick: for animation, camera and sound.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Readout {
    /// What moves it.
    pub mode: Mode,
    /// Phase of the mode.
    pub phase: Phase,
    /// Present stance.
    pub stance: Stance,
    /// How high over the feet its eyes are drawn, metres: eased toward where the stance has them.
    pub eyes: f32,
    /// The shape to draw it with, eased alike: the shape itself changes at once.
    pub drawn: Shape,
    /// True on ground that carries it.
    pub grounded: bool,
    /// Ground underfoot and its support.
    pub ground: Ground,
    /// Its own velocity, against what carries it, m/s in the world.
    pub velocity: Vec3,
    /// Speed along the ground, against what carries it, or across in the air, m/s.
    pub speed: f32,
    /// The part of that the way the body looks, m/s; negative backward.
    pub ahead: f32,
    /// The part of it to the body's right, m/s; negative to the left.
    pub right: f32,
    /// The angle from the facing to the motion, degrees, positive to the left; 0 at rest.
    pub angle: f32,
    /// Speed along up in the world, m/s; negative when falling.
    pub rise: f32,
    /// Unit vector: where the body looks.
    pub facing: Vec3,
    /// Where its feet are drawn, metres: its position, but while it is not upright.
    pub feet: DVec3,
    /// Unit vector from its feet to its head, to draw it by: against gravity, but for a while after that has changed.
    pub axis: Vec3,
    /// The same as the tick began: see [`Readout::carry`].
    pub axis_before: Vec3,
    /// How fast the body turned in this tick, degrees per second, positive to the left; without what carries it.
    pub turn_rate: f32,
    /// True in a sprint.
    pub sprinting: bool,
    /// True while it moves, by the two thresholds of the tuning's gait, so that it does not flutter.
    pub moving: bool,
    /// Where it is in two steps of its feet, 0 to 1: the first foot comes down at 0, the other at 0.5.
    pub gait: f32,
    /// Factors on the top speed, last in this tick; all 1 while nothing is wanted.
    pub speed_factors: Factors,
    /// Factors on accelerations.
    pub acceleration_factors: Factors,
    /// How much the feet were moved at once by steps in this tick, metres along up: what a camera should ease out.
    pub stepped: f32,
    /// True where this tick put the character somewhere else, so that drawing must not interpolate.
    pub cut: bool,
    /// The water that its feet are in, if they are in any.
    pub water: Option<Wet>,
    /// The obstacle to the wish, if any.
    pub barred: Option<Barred>,
}

/// An obstacle to the wish of a character.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Barred {
    /// The body that it presses against, by the game's own name for it; 0 is the world.
    pub body: u64,
    /// Where it touches that, in the world, metres.
    pub point: DVec3,
    /// Unit normal there, toward the character.
    pub normal: Vec3,
    /// Surface number of the obstacle.
    pub surface: u16,
    /// True where it is nothing solid, but an edge that it does not walk over.
    pub edge: bool,
}

/// The water that a character is in.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Wet {
    /// How far the surface is over the feet along up, metres; more than its height where all of it is under.
    pub depth: f32,
    /// The part of its height that is under water, 0 to 1.
    pub part: f32,
    /// Where the surface is, straight over its feet, in the world, metres.
    pub surface: DVec3,
    /// Unit normal of the surface there, out of the water; of its waves too.
    pub normal: Vec3,
    /// True while its eyes are under water.
    pub under: bool,
    /// For how long they have been, seconds; what comes of that is the game's to say.
    pub time_under: f32,
    /// How the water flows there, m/s in the world; none up to the knees.
    pub current: Vec3,
}

/// Results of a tick that the state does not keep.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Telling {
    pub stepped: f32,
    pub cut: bool,
    /// How far the body turned to the left, radians.
    pub turned: f32,
    /// From its feet to its head as the tick began, where that is not as it is now.
    pub axis_before: Option<Vec3>,
    pub speed_factors: Factors,
    pub acceleration_factors: Factors,
    pub water: Option<Wet>,
    pub barred: Option<Barred>,
}

/// Results of one tick.
#[derive(Clone, Copy, Debug)]
pub struct Outcome<'w> {
    /// Events in order of time.
    pub events: &'w [Event],
    /// How things stand.
    pub readout: Readout,
    /// The names of the sensors that it is in at the end, in order.
    pub inside: &'w [u64],
}

impl Readout {
    /// Carries a direction along as the body turned upright in this tick: a camera's view, so that forward stays forward on
    /// planets and ceilings. As it is where gravity has not changed.
    ///
    /// ```
    /// # use newel::{Character, Command, Intent, Mesh, Modifiers, Tick, Tuning, Workspace, glam::Vec3};
    /// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
    /// # let tuning = Tuning::walker();
    /// # let mut hero = Character::spawn(&level, &tuning, [0.0, 5.0, 0.0])?;
    /// # let mut work = Workspace::new();
    /// let mut view = Vec3::NEG_Z;
    /// let sideways = [Command::Gravity { pull: Vec3::NEG_Z }];
    /// for number in 0..60 {
    ///     let tick = Tick { number, terrain: &level, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
    ///     let commands = if number == 0 { &sideways[..] } else { &[] };
    ///     let outcome = tick.step(&mut work, &mut hero, &Intent::default().looking(view), commands)?;
    ///     view = outcome.readout.carry(view);
    /// }
    /// assert!(view.y > 0.999, "what was ahead is up now, and the view looks along the new floor: {view}");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn carry(&self, direction: Vec3) -> Vec3 {
        carried_over(direction, self.axis_before, self.axis, self.facing)
    }

    pub(crate) fn of(state: &State, told: &Telling, tuning: &Tuning, dt: f64) -> Readout {
        let up = state.up.as_dvec3();
        let own = state.velocity - state.carried.as_dvec3();
        let across = (own - up * own.dot(up)).as_vec3();
        let grounded = state.is_on_ground();
        let right = state.facing.cross(state.up);
        let angle = if across == Vec3::ZERO { 0.0 } else { angle_left(state.facing, across, state.up).to_degrees() };
        Readout {
            mode: state.mode,
            phase: state.phase,
            stance: state.stance,
            eyes: state.eyes,
            drawn: tuning.shape_seen_from(state.eyes),
            grounded,
            ground: state.ground.ground(state.position),
            velocity: own.as_vec3(),
            speed: if grounded { own.length() as f32 } else { across.length() },
            ahead: across.dot(state.facing),
            right: across.dot(right),
            angle,
            rise: state.velocity.dot(up) as f32,
            facing: carried_over(state.facing, state.up, state.axis, state.facing),
            feet: state.feet(tuning),
            axis: state.axis,
            axis_before: told.axis_before.unwrap_or(state.axis),
            turn_rate: (f64::from(told.turned.to_degrees()) / dt) as f32,
            sprinting: state.marks.sprinting(),
            moving: state.marks.moving(),
            gait: state.gait,
            speed_factors: told.speed_factors,
            acceleration_factors: told.acceleration_factors,
            stepped: told.stepped,
            cut: told.cut,
            water: told.water,
            barred: told.barred,
        }
    }
}
