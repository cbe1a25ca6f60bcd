//! Warnings about valid but odd tunings and courses: with the reason, and the number that would be usual.

use std::collections::BTreeMap;
use std::fmt;

use newel::{Button, Toward, Tuning, TuningValues};

use crate::course::{Course, Moment, Step};

/// One oddity.
#[derive(Debug, Clone, PartialEq)]
pub struct Warning {
    /// The field it is about, by its path in a tuning, or the part of a course.
    pub field: &'static str,
    /// The oddity, its reason, and the usual value.
    pub message: String,
}

impl fmt::Display for Warning {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.field, self.message)
    }
}

/// Longer than this, in seconds, a wait is felt as a ghost jump.
const LONGEST_WAIT: f32 = 0.3;
/// A fastest fall under this part of the speed of a jump's take-off hangs in the air.
const SLOW_FALL: f32 = 0.4;
/// A face that is steeper than the steepest by at most this, in degrees, was most likely meant to be walked on.
const ALL_BUT_WALKABLE: f64 = 8.0;
/// A flat piece that is so large a part of all land that is no wall is a ramp.
const RAMP: f64 = 0.05;

/// Warnings about a tuning.
#[must_use]
pub fn tuning_warnings(tuning: &Tuning) -> Vec<Warning> {
    let v = tuning.values();
    let mut odd = Odd::default();
    ground(v, &mut odd);
    air(v, tuning, &mut odd);
    jump(v, tuning, &mut odd);
    abilities(v, &mut odd);
    rest(v, &mut odd);
    odd.0
}

/// Warnings about a course: its tuning, and how that suits its terrain and its script.
#[must_use]
pub fn course_warnings(course: &Course) -> Vec<Warning> {
    let mut odd = Odd(tuning_warnings(&course.tuning));
    ramps(course, &mut odd);
    presses(course, &mut odd);
    odd.0
}

#[derive(Default)]
struct Odd(Vec<Warning>);

impl Odd {
    fn when(&mut self, so: bool, field: &'static str, message: impl FnOnce() -> String) {
        if so {
            self.0.push(Warning { field, message: message() });
        }
    }
}

fn ground(v: &TuningValues, odd: &mut Odd) {
    let g = &v.ground;
    odd.when(g.speed == 0.0, "ground.speed", || "0 m/s: it cannot walk; 4 to 7 is usual".into());
    odd.when(g.ease.is_none() && g.acceleration == 0.0, "ground.acceleration", || {
        "0 m/s²: it never gets going; 20 to 60 is usual".into()
    });
    odd.when(g.ease.is_none() && g.deceleration == 0.0, "ground.deceleration", || {
        "0 m/s²: it never stops; 20 to 60 is usual".into()
    });
    odd.when(g.steepest < 20.0, "ground.steepest", || {
        format!("{}°: it slides off gentle slopes; 40 to 50 is usual", g.steepest)
    });
    odd.when(g.steepest > 70.0, "ground.steepest", || {
        format!("{}°: it walks up what looks like walls; 40 to 50 is usual", g.steepest)
    });
    odd.when(g.step == 0.0, "ground.step", || {
        format!("0 m: every kerb is a wall; a fifth of the height, {:.2}, is usual", 0.2 * v.size.height)
    });
    odd.when(!(0.3..=4.0).contains(&v.size.height), "size.height", || {
        format!("{} m: lengths are in metres; 1 to 2 is usual for people", v.size.height)
    });
}

fn air(v: &TuningValues, tuning: &Tuning, odd: &mut Odd) {
    let a = &v.air;
    odd.when(a.gravity == 0.0, "air.gravity", || {
        "0 m/s²: what leaves the ground never falls; 15 to 30 is usual".into()
    });
    odd.when(a.acceleration == 0.0 && a.speed > 0.0, "air.acceleration", || {
        "0 m/s²: it cannot steer in the air; 5 to 20 is usual".into()
    });
    let take_off = tuning.take_off_speed() as f32;
    odd.when(a.terminal.is_some_and(|most| most < SLOW_FALL * take_off), "air.terminal", || {
        format!("a fall that slow takes for ever: its jumps take off at {take_off:.1} m/s; three times that is usual")
    });
    odd.when(v.impact.safe < take_off && v.jump.is_some(), "impact.safe", || {
        format!("its own jumps hurt it: they land at {take_off:.1} m/s; twice that is usual")
    });
}

fn jump(v: &TuningValues, tuning: &Tuning, odd: &mut Odd) {
    let Some(j) = v.jump else { return };
    odd.when(j.height == 0.0, "jump.height", || {
        "0 m: the jump goes nowhere; 1 to 1.5 is usual, or `jump = false`".into()
    });
    let time = if tuning.rising_gravity() > 0.0 { tuning.take_off_speed() / tuning.rising_gravity() } else { 0.0 };
    odd.when(time > 1.0, "jump.time_to_top", || format!("{time:.2} s to the top floats; 0.3 to 0.5 is usual"));
    odd.when(j.coyote > LONGEST_WAIT, "jump.coyote", || {
        format!("{} s: it jumps off what was left long ago; 0.05 to 0.15 is usual", j.coyote)
    });
    odd.when(j.buffer > LONGEST_WAIT, "jump.buffer", || {
        format!("{} s: it jumps long after the press; 0.05 to 0.15 is usual", j.buffer)
    });
    odd.when(j.nudge > v.size.radius, "jump.nudge", || {
        format!("{} m is over its radius: it is seen to jump aside; a third of the radius is usual", j.nudge)
    });
}

fn abilities(v: &TuningValues, odd: &mut Odd) {
    let walking = v.ground.speed;
    let sprinting = v.sprint.map_or(walking, |s| s.speed);
    odd.when(sprinting < walking, "sprint.speed", || {
        format!("{sprinting} m/s is slower than walking, {walking}; one and a half times that is usual")
    });
    odd.when(v.slide.is_some_and(|s| s.from > sprinting.max(walking)), "slide.from", || {
        format!(
            "a slide can never begin on the level: the top speed is {:.1} m/s; nine tenths of it is usual",
            sprinting.max(walking)
        )
    });
    odd.when(v.dash.is_some_and(|d| d.distance / d.time < sprinting.max(walking)), "dash.distance", || {
        format!(
            "a dash is slower than its top speed, {:.1} m/s; twice that times dash.time is usual",
            sprinting.max(walking)
        )
    });
    let low = |part: Option<f32>| part.is_some_and(|height| height > 0.9 * v.size.height);
    odd.when(v.crouch.is_some_and(|c| low(c.height)), "crouch.height", || {
        format!("hardly lower than standing; two thirds, {:.2} m, is usual", v.size.height * 2.0 / 3.0)
    });
    odd.when(v.wall_slide.zip(v.air.terminal).is_some_and(|(w, fall)| w.speed >= fall), "wall_slide.speed", || {
        "no slower than its fastest fall, so it never brakes; 2 m/s is usual".into()
    });
    odd.when(v.hover.is_some_and(|h| h.speed == 0.0), "hover.speed", || {
        "0 m/s: it hovers on the spot; the ground's speed is usual".into()
    });
    odd.when(v.climb.is_some_and(|c| c.up == 0.0), "climb.up", || "0 m/s: it never gets up; 1.5 is usual".into());
    odd.when(v.swim.is_some_and(|s| s.speed == 0.0), "swim.speed", || {
        "0 m/s: it only drifts; two thirds of walking is usual".into()
    });
}

fn rest(v: &TuningValues, odd: &mut Odd) {
    odd.when(v.turn.toward == Toward::Movement && v.turn.rate < 90.0 && v.turn.ease.is_none(), "turn.rate", || {
        format!("{}°/s: over two seconds to turn about; 360 to 900 is usual", v.turn.rate)
    });
    odd.when(v.stick.dead_zone > 0.4, "stick.dead_zone", || {
        format!("{}: nearly half of the stick does nothing; 0.1 to 0.2 is usual", v.stick.dead_zone)
    });
}

/// Ramps that are a little too steep to be walked on: flat pieces of some size, and not the odd facets of natural land.
fn ramps(course: &Course, odd: &mut Odd) {
    let up = course.spawn.up.as_dvec3();
    let limit = f64::from(course.tuning.values().ground.steepest);
    let (mut land, mut planes) = (0.0, BTreeMap::<[i32; 3], (f64, f64)>::new());
    for ([a, b, c], _) in course.scene.solids.corners_that_stay() {
        let across = (b - a).cross(c - a);
        let degrees = (across.dot(up) / (across.length() * up.length())).acos().to_degrees();
        if degrees < limit + ALL_BUT_WALKABLE {
            land += across.length();
        }
        if (limit + 0.05..limit + ALL_BUT_WALKABLE).contains(&degrees) {
            let plane = (across / across.length() * 1e3).to_array().map(|part| part.round() as i32);
            planes.entry(plane).or_insert((0.0, degrees)).0 += across.length();
        }
    }
    let steepest = planes.values().filter(|plane| plane.0 > RAMP * land).map(|plane| plane.1).reduce(f64::max);
    if let Some(steepest) = steepest {
        let usual = (steepest + 1.0).ceil();
        let message =
            format!("{limit}°: a ramp of {steepest:.1}° is slid down; {usual:.0} would do, 40 to 50 is usual");
        odd.0.push(Warning { field: "ground.steepest", message });
    }
}

/// Buttons that the script presses and the tuning does nothing with.
fn presses(course: &Course, odd: &mut Odd) {
    let v = course.tuning.values();
    let abilities = [
        (Button::Jump, "jump", v.jump.is_some()),
        (Button::Sprint, "sprint", v.sprint.is_some()),
        (Button::Dash, "dash", v.dash.is_some()),
        (Button::Slide, "slide", v.slide.is_some()),
        (Button::Hover, "hover", v.hover.is_some()),
    ];
    for (button, name, tuned) in abilities {
        let presses = |m: &&Moment| matches!(m.step, Step::Button(b, true) if b == button);
        if let Some(moment) = course.script.moments.iter().find(presses).filter(|_| !tuned) {
            let message =
                format!("presses {name} at {} s, which the tuning has not; add a table `{name}` to it", moment.at);
            odd.0.push(Warning { field: "script", message });
        }
    }
}
