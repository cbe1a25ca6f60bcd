//! The fields of a tuning, one by one: what each means, its unit and its range. Checks, error messages, files and
//! tables all read these lists.

use super::tables::{
    climb, crouch, dash, hover, jump, ledge, prone, slide, sprint, swim, vault, wall_jump, wall_slide,
};
use super::values::TuningValues;

/// One number of a [`TuningValues`].
pub struct Field {
    /// Its path, as in a file: `ground.speed`.
    pub path: &'static str,
    /// Its unit; empty for a plain number.
    pub unit: &'static str,
    /// The least that is allowed.
    pub least: f32,
    /// The most that is allowed.
    pub most: f32,
    /// True where only whole numbers make sense.
    pub whole: bool,
    /// Meaning, in a few words.
    pub meaning: &'static str,
    /// Reads it; `None` where its table or the field itself is absent.
    pub get: fn(&TuningValues) -> Option<f32>,
    /// Writes it, making its table if there is none.
    pub set: fn(&mut TuningValues, f32),
    /// Leaves it out; `None` where it cannot be.
    pub clear: Option<fn(&mut TuningValues)>,
}

impl core::fmt::Debug for Field {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "{} ({} to {} {})", self.path, self.least, self.most, self.unit)
    }
}

impl PartialEq for Field {
    fn eq(&self, other: &Field) -> bool {
        self.path == other.path
    }
}

type Get = fn(&TuningValues) -> Option<f32>;
type Set = fn(&mut TuningValues, f32);

const fn number(
    path: &'static str,
    unit: &'static str,
    (least, most): (f32, f32),
    meaning: &'static str,
    get: Get,
    set: Set,
) -> Field {
    Field { path, unit, least, most, whole: false, meaning, get, set, clear: None }
}

impl Field {
    const fn or_none(self, clear: fn(&mut TuningValues)) -> Field {
        Field { clear: Some(clear), ..self }
    }
}

const fn whole(path: &'static str, range: (f32, f32), meaning: &'static str, get: Get, set: Set) -> Field {
    Field { whole: true, ..number(path, "", range, meaning, get, set) }
}

/// Rates, m/s², and times, s, share their ranges.
const RATE: (f32, f32) = (0.0, 100_000.0);
const SPEED: (f32, f32) = (0.0, 1000.0);
const HEIGHT: (f32, f32) = (0.0, 1000.0);
const TIME: (f32, f32) = (0.01, 60.0);
const EASE: (f32, f32) = (0.001, 60.0);
const WAIT: (f32, f32) = (0.0, 10.0);
const FACTOR: (f32, f32) = (0.05, 4.0);
const PART: (f32, f32) = (0.0, 1.0);
const EYES: (f32, f32) = (0.05, 1.0);
const COUNT: (f32, f32) = (0.0, 16.0);

/// Every number of a tuning, in the order of the file.
#[rustfmt::skip]
pub static FIELDS: &[Field] = &[
    number("size.height", "m", (0.01, 200.0), "height from the feet to the top of the head",
        |v| Some(v.size.height), |v, x| v.size.height = x),
    number("size.radius", "m", (0.002, 100.0), "radius of the capsule, at most half its height, or half the width of the box, at most twice its height",
        |v| Some(v.size.radius), |v, x| v.size.radius = x),
    number("size.eyes", "", EYES, "how high the eyes are, as a part of the height",
        |v| Some(v.size.eyes), |v, x| v.size.eyes = x),
    number("ground.speed", "m/s", SPEED, "top speed along the ground",
        |v| Some(v.ground.speed), |v, x| v.ground.speed = x),
    number("ground.acceleration", "m/s²", RATE, "how fast speed is gained on the ground",
        |v| Some(v.ground.acceleration), |v, x| v.ground.acceleration = x),
    number("ground.deceleration", "m/s²", RATE, "how fast speed is lost on the ground without input, or with less",
        |v| Some(v.ground.deceleration), |v, x| v.ground.deceleration = x),
    number("ground.reversal", "m/s²", RATE, "how fast speed is lost while it runs against the heading",
        |v| Some(v.ground.reversal), |v, x| v.ground.reversal = x),
    number("ground.ease", "s", EASE, "instead of the three rates: the time constant with which speed approaches what is wanted",
        |v| v.ground.ease, |v, x| v.ground.ease = Some(x))
            .or_none(|v| v.ground.ease = None),
    number("ground.ease_stop", "s", EASE, "the same without input; that of ground.ease if left out",
        |v| v.ground.ease_stop, |v, x| v.ground.ease_stop = Some(x))
            .or_none(|v| v.ground.ease_stop = None),
    number("ground.sideways", "", FACTOR, "the part of the top speed that there is sideways to the facing",
        |v| Some(v.ground.sideways), |v, x| v.ground.sideways = x),
    number("ground.backward", "", FACTOR, "the part of the top speed that there is backward",
        |v| Some(v.ground.backward), |v, x| v.ground.backward = x),
    number("ground.steepest", "°", (0.0, 85.0), "the steepest slope that can be walked on",
        |v| Some(v.ground.steepest), |v, x| v.ground.steepest = x),
    number("ground.step", "m", (0.0, 100.0), "the highest step taken in stride, up or down, at most half the height",
        |v| Some(v.ground.step), |v, x| v.ground.step = x),
    number("ground.overhang", "", (0.0, 0.95), "the part of the radius that the foot's middle may be beyond an edge before it slips off",
        |v| Some(v.ground.overhang), |v, x| v.ground.overhang = x),
    number("ground.uphill", "", FACTOR, "the part of the top speed that there is straight up the steepest slope",
        |v| Some(v.ground.uphill), |v, x| v.ground.uphill = x),
    number("ground.downhill", "", FACTOR, "the part of the top speed that there is straight down the steepest slope",
        |v| Some(v.ground.downhill), |v, x| v.ground.downhill = x),
    number("ground.step_loss", "", PART, "the part of the speed that a step of the full step height costs",
        |v| Some(v.ground.step_loss), |v, x| v.ground.step_loss = x),
    number("ground.fly_off", "m", (0.0, 100.0), "how high over the ground a crest may throw it before it flies off; it always holds on if left out",
        |v| v.ground.fly_off, |v, x| v.ground.fly_off = Some(x))
            .or_none(|v| v.ground.fly_off = None),
    number("ground.windage", "", PART, "the part of the wind's speed that is added to what it wants to walk",
        |v| Some(v.ground.windage), |v, x| v.ground.windage = x),
    number("ground.wading", "", FACTOR, "the part of the top speed that is left where all of it is under water",
        |v| Some(v.ground.wading), |v, x| v.ground.wading = x),
    number("ground.withstands", "m/s", SPEED, "the current that it stands against where all of it is under water; the rest of a stronger one takes it along",
        |v| Some(v.ground.withstands), |v, x| v.ground.withstands = x),
    number("ground.drops", "s", (0.02, 2.0), "how long one-way floors let it through once it drops through one",
        |v| Some(v.ground.drops), |v, x| v.ground.drops = x),
    number("air.gravity", "m/s²", (0.0, 100_000.0), "how fast falling gains speed; jump.time_down overrides it",
        |v| Some(v.air.gravity), |v, x| v.air.gravity = x),
    number("air.speed", "", (0.0, 4.0), "the top speed across that steering reaches in the air, as a part of the ground's",
        |v| Some(v.air.speed), |v, x| v.air.speed = x),
    number("air.acceleration", "m/s²", RATE, "how fast speed across is gained in the air",
        |v| Some(v.air.acceleration), |v, x| v.air.acceleration = x),
    number("air.deceleration", "m/s²", RATE, "how fast speed across is lost in the air without input",
        |v| Some(v.air.deceleration), |v, x| v.air.deceleration = x),
    number("air.excess_loss", "m/s²", RATE, "how fast speed above the air's top is lost while heading on; 0 keeps it",
        |v| Some(v.air.excess_loss), |v, x| v.air.excess_loss = x),
    number("air.terminal", "m/s", (0.1, 10_000.0), "the fastest fall; none if left out",
        |v| v.air.terminal, |v, x| v.air.terminal = Some(x))
            .or_none(|v| v.air.terminal = None),
    number("air.clings", "s", WAIT, "how long in the air what clings is pulled toward a surface in reach",
        |v| Some(v.air.clings), |v, x| v.air.clings = x),
    number("air.carried", "", PART, "the part of a moving body's velocity that is kept on leaving it",
        |v| Some(v.air.carried), |v, x| v.air.carried = x),
    number("air.drag", "1/s", (0.0, 100.0), "how strongly the air holds what moves against it; a jump on its way up is not held",
        |v| Some(v.air.drag), |v, x| v.air.drag = x),
    number("jump.height", "m", HEIGHT, "how high the feet rise in a jump",
        |v| v.jump.map(|j| j.height), |v, x| jump(v).height = x),
    number("jump.time_to_top", "s", TIME, "how long a jump takes to its top; from air.gravity if left out",
        |v| v.jump.and_then(|j| j.time_to_top), |v, x| jump(v).time_to_top = Some(x))
            .or_none(|v| if let Some(j) = &mut v.jump { j.time_to_top = None }),
    number("jump.time_down", "s", TIME, "how long a fall from the jump's height takes: sets the gravity of every fall",
        |v| v.jump.and_then(|j| j.time_down), |v, x| jump(v).time_down = Some(x))
            .or_none(|v| if let Some(j) = &mut v.jump { j.time_down = None }),
    number("jump.tap_height", "m", (0.001, 1000.0), "how high the feet rise if the button is let go at once; letting go does nothing if left out",
        |v| v.jump.and_then(|j| j.tap_height), |v, x| jump(v).tap_height = Some(x))
            .or_none(|v| if let Some(j) = &mut v.jump { j.tap_height = None }),
    whole("jump.extra", COUNT, "how many more jumps there are in the air",
        |v| v.jump.map(|j| j.extra), |v, x| jump(v).extra = x),
    number("jump.extra_height", "m", HEIGHT, "how high those rise; as high as the first if left out",
        |v| v.jump.and_then(|j| j.extra_height), |v, x| jump(v).extra_height = Some(x))
            .or_none(|v| if let Some(j) = &mut v.jump { j.extra_height = None }),
    number("jump.coyote", "s", WAIT, "how long after losing the ground it can still be jumped from",
        |v| v.jump.map(|j| j.coyote), |v, x| jump(v).coyote = x),
    number("jump.buffer", "s", WAIT, "how long a press too early waits for the ground",
        |v| v.jump.map(|j| j.buffer), |v, x| jump(v).buffer = x),
    number("jump.lean", "", PART, "0 jumps straight up, 1 along the ground's normal",
        |v| v.jump.map(|j| j.lean), |v, x| jump(v).lean = x),
    number("jump.hang_speed", "m/s", SPEED, "about the top of a jump, slower than this, gravity is less; 0 for never",
        |v| v.jump.map(|j| j.hang_speed), |v, x| jump(v).hang_speed = x),
    number("jump.hang_gravity", "", (0.01, 1.0), "what gravity is multiplied by there",
        |v| v.jump.map(|j| j.hang_gravity), |v, x| jump(v).hang_gravity = x),
    number("jump.nudge", "m", (0.0, 10.0), "how far it may be moved aside to rise past a corner overhead; 0 for not at all",
        |v| v.jump.map(|j| j.nudge), |v, x| jump(v).nudge = x),
    number("sprint.speed", "m/s", SPEED, "top speed in a sprint",
        |v| v.sprint.map(|s| s.speed), |v, x| sprint(v).speed = x),
    number("sprint.acceleration", "m/s²", RATE, "how fast speed is gained in a sprint",
        |v| v.sprint.map(|s| s.acceleration), |v, x| sprint(v).acceleration = x),
    number("sprint.cone", "°", (0.0, 180.0), "how far the heading may be from the facing, to either side",
        |v| v.sprint.map(|s| s.cone), |v, x| sprint(v).cone = x),
    number("sprint.keeps", "°", (0.0, 180.0), "the same once it sprints; as sprint.cone if left out",
        |v| v.sprint.and_then(|s| s.keeps), |v, x| sprint(v).keeps = Some(x))
            .or_none(|v| if let Some(s) = &mut v.sprint { s.keeps = None }),
    number("sprint.sideways", "", FACTOR, "the part of the sprint's top speed that there is sideways to the facing; as ground.sideways if left out",
        |v| v.sprint.and_then(|s| s.sideways), |v, x| sprint(v).sideways = Some(x))
            .or_none(|v| if let Some(s) = &mut v.sprint { s.sideways = None }),
    number("sprint.backward", "", FACTOR, "the part of it that there is backward; as ground.backward if left out",
        |v| v.sprint.and_then(|s| s.backward), |v, x| sprint(v).backward = Some(x))
            .or_none(|v| if let Some(s) = &mut v.sprint { s.backward = None }),
    number("wall_slide.speed", "m/s", SPEED, "the fastest fall along a wall that is pressed against",
        |v| v.wall_slide.map(|w| w.speed), |v, x| wall_slide(v).speed = x),
    number("wall_slide.braking", "m/s²", RATE, "how fast a faster fall is slowed to that",
        |v| v.wall_slide.map(|w| w.braking), |v, x| wall_slide(v).braking = x),
    number("wall_jump.height", "m", HEIGHT, "how high the feet rise in a jump off a wall",
        |v| v.wall_jump.map(|w| w.height), |v, x| wall_jump(v).height = x),
    number("wall_jump.away", "m/s", SPEED, "the speed away from the wall",
        |v| v.wall_jump.map(|w| w.away), |v, x| wall_jump(v).away = x),
    number("wall_jump.reach", "m", (0.0, 10.0), "how near the wall has to be",
        |v| v.wall_jump.map(|w| w.reach), |v, x| wall_jump(v).reach = x),
    number("wall_jump.pause", "s", WAIT, "how long there is no steering after it",
        |v| v.wall_jump.map(|w| w.pause), |v, x| wall_jump(v).pause = x),
    number("dash.distance", "m", HEIGHT, "how far a dash leads",
        |v| v.dash.map(|d| d.distance), |v, x| dash(v).distance = x),
    number("dash.time", "s", TIME, "how long it lasts",
        |v| v.dash.map(|d| d.time), |v, x| dash(v).time = x),
    number("dash.cooldown", "s", (0.0, 3600.0), "how long from its end to the next",
        |v| v.dash.map(|d| d.cooldown), |v, x| dash(v).cooldown = x),
    whole("dash.in_air", COUNT, "how many there are between leaving the ground and landing",
        |v| v.dash.map(|d| d.in_air), |v, x| dash(v).in_air = x),
    number("dash.keeps", "", PART, "the part of its speed that is left at its end",
        |v| v.dash.map(|d| d.keeps), |v, x| dash(v).keeps = x),
    number("stance.ease", "s", EASE, "the time constant with which the drawn eyes and shape follow a change of stance",
        |v| Some(v.stance.ease), |v, x| v.stance.ease = x),
    number("crouch.height", "m", (0.01, 200.0), "height crouching, at most that of the next higher stance; two thirds of the standing height if left out",
        |v| v.crouch.and_then(|c| c.height), |v, x| crouch(v).height = Some(x))
            .or_none(|v| if let Some(c) = &mut v.crouch { c.height = None }),
    number("crouch.radius", "m", (0.002, 100.0), "radius crouching, or half the width of a box; as standing if left out",
        |v| v.crouch.and_then(|c| c.radius), |v, x| crouch(v).radius = Some(x))
            .or_none(|v| if let Some(c) = &mut v.crouch { c.radius = None }),
    number("crouch.eyes", "", EYES, "how high the eyes are crouching, as a part of that height",
        |v| v.crouch.map(|c| c.eyes), |v, x| crouch(v).eyes = x),
    number("crouch.speed", "", FACTOR, "the part of the top speed that there is crouching",
        |v| v.crouch.map(|c| c.speed), |v, x| crouch(v).speed = x),
    number("prone.height", "m", (0.01, 200.0), "height lying flat, at most that of the next higher stance; a third of the standing height if left out",
        |v| v.prone.and_then(|c| c.height), |v, x| prone(v).height = Some(x))
            .or_none(|v| if let Some(c) = &mut v.prone { c.height = None }),
    number("prone.radius", "m", (0.002, 100.0), "radius lying flat, or half the width of a box; as standing if left out",
        |v| v.prone.and_then(|c| c.radius), |v, x| prone(v).radius = Some(x))
            .or_none(|v| if let Some(c) = &mut v.prone { c.radius = None }),
    number("prone.eyes", "", EYES, "how high the eyes are lying flat, as a part of that height",
        |v| v.prone.map(|c| c.eyes), |v, x| prone(v).eyes = x),
    number("prone.speed", "", FACTOR, "the part of the top speed that there is lying flat",
        |v| v.prone.map(|c| c.speed), |v, x| prone(v).speed = x),
    number("slide.from", "m/s", SPEED, "the least speed that a slide can be begun at",
        |v| v.slide.map(|s| s.from), |v, x| slide(v).from = x),
    number("slide.burst", "m/s", SPEED, "the speed it begins with on top of that, up to the fastest",
        |v| v.slide.map(|s| s.burst), |v, x| slide(v).burst = x),
    number("slide.fastest", "m/s", SPEED, "faster than this neither the burst nor a slope makes it",
        |v| v.slide.map(|s| s.fastest), |v, x| slide(v).fastest = x),
    number("slide.deceleration", "m/s²", RATE, "how fast speed is lost on the level",
        |v| v.slide.map(|s| s.deceleration), |v, x| slide(v).deceleration = x),
    number("slide.slope", "", (0.0, 4.0), "how much of gravity's pull along a slope it feels, as a factor",
        |v| v.slide.map(|s| s.slope), |v, x| slide(v).slope = x),
    number("slide.steer", "°/s", RATE, "how fast it turns toward the heading",
        |v| v.slide.map(|s| s.steer), |v, x| slide(v).steer = x),
    number("slide.ends_below", "m/s", (0.01, 1000.0), "it ends below this speed",
        |v| v.slide.map(|s| s.ends_below), |v, x| slide(v).ends_below = x),
    number("slide.cooldown", "s", (0.0, 3600.0), "how long from its end to the next",
        |v| v.slide.map(|s| s.cooldown), |v, x| slide(v).cooldown = x),
    number("hover.over", "m", (0.0, 1000.0), "how high over the ground its feet are kept, where that is what it holds",
        |v| v.hover.map(|h| h.over), |v, x| hover(v).over = x),
    number("hover.speed", "m/s", SPEED, "top speed across",
        |v| v.hover.map(|h| h.speed), |v, x| hover(v).speed = x),
    number("hover.climb", "m/s", SPEED, "how fast it rises and sinks, at most",
        |v| v.hover.map(|h| h.climb), |v, x| hover(v).climb = x),
    number("hover.acceleration", "m/s²", RATE, "how fast speed is gained",
        |v| v.hover.map(|h| h.acceleration), |v, x| hover(v).acceleration = x),
    number("hover.deceleration", "m/s²", RATE, "how fast it is lost without input",
        |v| v.hover.map(|h| h.deceleration), |v, x| hover(v).deceleration = x),
    number("hover.windage", "", PART, "the part of the wind's speed across that is added to what it wants",
        |v| v.hover.map(|h| h.windage), |v, x| hover(v).windage = x),
    number("climb.up", "m/s", SPEED, "top speed up",
        |v| v.climb.map(|t| t.up), |v, x| climb(v).up = x),
    number("climb.down", "m/s", SPEED, "top speed down",
        |v| v.climb.map(|t| t.down), |v, x| climb(v).down = x),
    number("climb.aside", "m/s", SPEED, "top speed sideways and round poles",
        |v| v.climb.map(|t| t.aside), |v, x| climb(v).aside = x),
    number("climb.acceleration", "m/s²", RATE, "how fast speed is gained",
        |v| v.climb.map(|t| t.acceleration), |v, x| climb(v).acceleration = x),
    number("climb.deceleration", "m/s²", RATE, "how fast it is lost without input",
        |v| v.climb.map(|t| t.deceleration), |v, x| climb(v).deceleration = x),
    number("climb.cone", "°", (0.0, 90.0), "the most that a heading may lead past what is taken hold of",
        |v| v.climb.map(|t| t.cone), |v, x| climb(v).cone = x),
    number("climb.hands", "", PART, "how high over the feet the hands are, as a part of the height: there must be hold before them",
        |v| v.climb.map(|t| t.hands), |v, x| climb(v).hands = x),
    number("climb.flattest", "°", (10.0, 90.0), "the least slope that is climbed rather than walked",
        |v| v.climb.map(|t| t.flattest), |v, x| climb(v).flattest = x),
    number("climb.overhang", "°", (0.0, 60.0), "the most that what is climbed may lean over, past upright",
        |v| v.climb.map(|t| t.overhang), |v, x| climb(v).overhang = x),
    number("climb.rung", "m", (0.0, 10.0), "how far apart the rungs of a ladder are: without input it comes to rest at one; 0 for anywhere",
        |v| v.climb.map(|t| t.rung), |v, x| climb(v).rung = x),
    number("climb.slide", "m/s", SPEED, "top speed sliding down a ladder or a pole with a crouch asked for; 0 lets go instead",
        |v| v.climb.map(|t| t.slide), |v, x| climb(v).slide = x),
    number("climb.slide_acceleration", "m/s²", RATE, "how fast that speed is gained",
        |v| v.climb.map(|t| t.slide_acceleration), |v, x| climb(v).slide_acceleration = x),
    number("climb.jump_away", "m/s", SPEED, "speed away at a jump off it",
        |v| v.climb.map(|t| t.jump_away), |v, x| climb(v).jump_away = x),
    number("climb.jump_height", "m", HEIGHT, "height of that jump",
        |v| v.climb.map(|t| t.jump_height), |v, x| climb(v).jump_height = x),
    number("climb.over", "s", TIME, "how long it takes to get over the top of it onto a floor",
        |v| v.climb.map(|t| t.over), |v, x| climb(v).over = x),
    number("climb.pause", "s", WAIT, "how long after letting go it takes no hold again",
        |v| v.climb.map(|t| t.pause), |v, x| climb(v).pause = x),
    number("ledge.lowest", "m", HEIGHT, "the lowest ledge got up onto from the ground, over the feet",
        |v| v.ledge.map(|t| t.lowest), |v, x| ledge(v).lowest = x),
    number("ledge.highest", "m", HEIGHT, "the highest ledge got up onto from the ground, over the feet",
        |v| v.ledge.map(|t| t.highest), |v, x| ledge(v).highest = x),
    number("ledge.time", "s", TIME, "how long that takes",
        |v| v.ledge.map(|t| t.time), |v, x| ledge(v).time = x),
    number("ledge.width", "m", (0.0, 100.0), "how wide a ledge must be at least",
        |v| v.ledge.map(|t| t.width), |v, x| ledge(v).width = x),
    number("ledge.depth", "m", (0.0, 100.0), "how deep a ledge must be at least",
        |v| v.ledge.map(|t| t.depth), |v, x| ledge(v).depth = x),
    number("ledge.cone", "°", (0.0, 90.0), "the most that a heading may lead past it",
        |v| v.ledge.map(|t| t.cone), |v, x| ledge(v).cone = x),
    number("ledge.hang", "m", HEIGHT, "how high the ledge is over the feet that hang from it",
        |v| v.ledge.map(|t| t.hang), |v, x| ledge(v).hang = x),
    number("ledge.reach", "m", (0.0, 100.0), "how much higher than that a ledge may be and still be caught",
        |v| v.ledge.map(|t| t.reach), |v, x| ledge(v).reach = x),
    number("ledge.below", "m", (0.0, 100.0), "how much lower than that",
        |v| v.ledge.map(|t| t.below), |v, x| ledge(v).below = x),
    number("ledge.catch", "s", TIME, "how long the body takes from where it caught to where it hangs",
        |v| v.ledge.map(|t| t.catch), |v, x| ledge(v).catch = x),
    number("ledge.pull_up", "s", TIME, "how long it takes to pull itself up",
        |v| v.ledge.map(|t| t.pull_up), |v, x| ledge(v).pull_up = x),
    number("ledge.aside", "m/s", SPEED, "top speed along the ledge; 0 holds still",
        |v| v.ledge.map(|t| t.aside), |v, x| ledge(v).aside = x),
    number("ledge.acceleration", "m/s²", RATE, "how fast that speed is gained and lost",
        |v| v.ledge.map(|t| t.acceleration), |v, x| ledge(v).acceleration = x),
    number("ledge.jump_away", "m/s", SPEED, "speed away at a jump off it",
        |v| v.ledge.map(|t| t.jump_away), |v, x| ledge(v).jump_away = x),
    number("ledge.jump_height", "m", HEIGHT, "height of that jump",
        |v| v.ledge.map(|t| t.jump_height), |v, x| ledge(v).jump_height = x),
    number("ledge.pause", "s", WAIT, "how long after letting go it catches nothing",
        |v| v.ledge.map(|t| t.pause), |v, x| ledge(v).pause = x),
    number("vault.lowest", "m", HEIGHT, "the lowest obstacle gone over, over the feet",
        |v| v.vault.map(|t| t.lowest), |v, x| vault(v).lowest = x),
    number("vault.highest", "m", HEIGHT, "the highest",
        |v| v.vault.map(|t| t.highest), |v, x| vault(v).highest = x),
    number("vault.deepest", "m", (0.0, 100.0), "the deepest",
        |v| v.vault.map(|t| t.deepest), |v, x| vault(v).deepest = x),
    number("vault.drop", "m", HEIGHT, "how much lower than where it began the ground beyond may be",
        |v| v.vault.map(|t| t.drop), |v, x| vault(v).drop = x),
    number("vault.slowest", "m/s", SPEED, "the slowest that it must go toward it",
        |v| v.vault.map(|t| t.slowest), |v, x| vault(v).slowest = x),
    number("vault.cone", "°", (0.0, 90.0), "the most that its way may lead past it",
        |v| v.vault.map(|t| t.cone), |v, x| vault(v).cone = x),
    number("vault.time", "s", TIME, "how long it takes",
        |v| v.vault.map(|t| t.time), |v, x| vault(v).time = x),
    number("swim.speed", "m/s", SPEED, "top speed of its strokes",
        |v| v.swim.map(|t| t.speed), |v, x| swim(v).speed = x),
    number("swim.sprint", "m/s", SPEED, "the same with the sprint button held; as swim.speed if left out",
        |v| v.swim.and_then(|t| t.sprint), |v, x| swim(v).sprint = Some(x))
            .or_none(|v| if let Some(t) = &mut v.swim { t.sprint = None }),
    number("swim.rise", "m/s", SPEED, "how fast it rises with the jump button held",
        |v| v.swim.map(|t| t.rise), |v, x| swim(v).rise = x),
    number("swim.dive", "m/s", SPEED, "how fast it dives with a crouch asked for",
        |v| v.swim.map(|t| t.dive), |v, x| swim(v).dive = x),
    number("swim.acceleration", "m/s²", RATE, "how strong its strokes are: part of that holds its speed against the water's drag",
        |v| v.swim.map(|t| t.acceleration), |v, x| swim(v).acceleration = x),
    number("swim.deceleration", "m/s²", RATE, "how strongly it stops without input, on top of the water's drag",
        |v| v.swim.map(|t| t.deceleration), |v, x| swim(v).deceleration = x),
    number("swim.drag", "1/s", (0.0, 100.0), "how strongly water holds what moves in it",
        |v| v.swim.map(|t| t.drag), |v, x| swim(v).drag = x),
    number("swim.float", "", (0.1, 1.0), "how deep it floats, as a part of its height; at 1 it does not",
        |v| v.swim.map(|t| t.float), |v, x| swim(v).float = x),
    number("swim.idle", "m/s", (-10.0, 10.0), "how fast it rises by itself with its head under water; negative sinks",
        |v| v.swim.map(|t| t.idle), |v, x| swim(v).idle = x),
    number("swim.begins", "", (0.1, 1.0), "from this depth on it swims, as a part of its height; at least swim.float",
        |v| v.swim.map(|t| t.begins), |v, x| swim(v).begins = x),
    number("swim.ends", "", (0.05, 1.0), "it walks again on ground no deeper than this, as a part of its height; less than swim.float",
        |v| v.swim.map(|t| t.ends), |v, x| swim(v).ends = x),
    number("swim.dive_angle", "°", (0.0, 90.0), "how far down the view has to look for a heading along it to dive from the surface",
        |v| v.swim.map(|t| t.dive_angle), |v, x| swim(v).dive_angle = x),
    number("swim.jump", "m", HEIGHT, "how high it leaps out of the water with its head out; 0 for not at all",
        |v| v.swim.map(|t| t.jump), |v, x| swim(v).jump = x),
    number("impact.safe", "m/s", (0.0, 1000.0), "up to this speed a landing or a hit does nothing",
        |v| Some(v.impact.safe), |v, x| v.impact.safe = x),
    number("impact.lethal", "m/s", (0.01, 10_000.0), "from this speed on it is as hard as can be",
        |v| Some(v.impact.lethal), |v, x| v.impact.lethal = x),
    number("impact.damage", "per m/s", (0.0, 1e6), "how much damage is told for each m/s over the safe speed",
        |v| Some(v.impact.damage), |v, x| v.impact.damage = x),
    number("impact.slowed", "", (0.0, 1.0), "what is left of the top speed after the hardest landing; 0 locks its input",
        |v| Some(v.impact.slowed), |v, x| v.impact.slowed = x),
    number("impact.lasts", "s", (0.0, 3600.0), "for how long after the hardest landing; less after softer ones",
        |v| Some(v.impact.lasts), |v, x| v.impact.lasts = x),
    number("impact.softened", "m", (0.01, 1000.0), "water this deep takes all of a fall into it, and less of it a part",
        |v| Some(v.impact.softened), |v, x| v.impact.softened = x),
    number("impact.told", "m/s", (0.01, 10_000.0), "hits on walls and ceilings are told from this speed on",
        |v| Some(v.impact.told), |v, x| v.impact.told = x),
    number("turn.rate", "°/s", RATE, "how fast the body turns",
        |v| Some(v.turn.rate), |v, x| v.turn.rate = x),
    number("turn.ease", "s", EASE, "instead of the rate: the time constant with which the angle left falls",
        |v| v.turn.ease, |v, x| v.turn.ease = Some(x))
            .or_none(|v| v.turn.ease = None),
    number("turn.righting", "°/s", RATE, "how fast the whole body turns upright after gravity has changed",
        |v| Some(v.turn.righting), |v, x| v.turn.righting = x),
    number("stick.dead_zone", "", (0.0, 0.95), "less than this far from its middle is none",
        |v| Some(v.stick.dead_zone), |v, x| v.stick.dead_zone = x),
    number("stick.full_zone", "", (0.05, 1.0), "this far is full speed",
        |v| Some(v.stick.full_zone), |v, x| v.stick.full_zone = x),
    number("stick.curve", "", (0.1, 10.0), "the power that what is between is raised to",
        |v| Some(v.stick.curve), |v, x| v.stick.curve = x),
    number("gait.stride", "m", (0.0, 1000.0), "the way of two footsteps; 0 for none",
        |v| Some(v.gait.stride), |v, x| v.gait.stride = x),
    number("gait.moving", "m/s", SPEED, "from this speed on it is moving",
        |v| Some(v.gait.moving), |v, x| v.gait.moving = x),
    number("gait.still", "m/s", SPEED, "below this speed it has stopped",
        |v| Some(v.gait.still), |v, x| v.gait.still = x),
];
