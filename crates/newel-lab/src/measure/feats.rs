//! Finer points of what takes a table of its own: dashes, slides, walls, hovering, swimming, and jumps past what is in the way.

use newel::glam::{DVec3, Vec3};
use newel::{Button, Effect, EventKind, Face, Heading, Mode, Tuning, Water, Wind, Zone};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest, largest_within};
use crate::course::Step;

/// Longer than anything here takes, seconds, and the wind of the trials, m/s.
const LONGEST: f64 = 30.0;
/// Angles are found to within this, degrees.
const ANGLE: f64 = 0.02;
const WIND: f64 = 10.0;
/// The slopes that a slide and a lean are measured on, degrees.
const SLOPE: f64 = 15.0;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let mut found = Vec::new();
    if let Some(dash) = values.dash {
        found.extend(dashes(tuning, &dash));
    }
    if values.slide.is_some() {
        found.extend(slides(tuning));
    }
    if let Some(slide) = values.wall_slide {
        found.push(Outcome::new(
            "wall slide: from 20 m/s to its speed in",
            "s",
            braked(tuning, f64::from(slide.speed)),
            None,
        ));
    }
    if let Some(hover) = values.hover {
        if hover.holds == newel::Holds::Ground {
            let high = hovered(tuning, 0.0).map(|v| v.y);
            found.push(Outcome::new("hovering: keeps this high", "m", high, Some(f64::from(hover.over))));
        }
        let said = WIND * f64::from(hover.windage);
        found.push(Outcome::new(
            "hovering: blown along by 10 m/s of wind",
            "m/s",
            hovered(tuning, WIND).map(|v| v.x),
            Some(said),
        ));
    }
    if let Some(swim) = values.swim {
        found.push(Outcome::new(
            "swimming: dives from a look down by",
            "deg",
            dives_from(tuning),
            Some(f64::from(swim.dive_angle)),
        ));
    }
    if let Some(jump) = values.jump {
        let lean = Outcome::new("jumping off a slope of 15 degrees: sideways", "m/s", leaned(tuning), None);
        found.push(lean);
        if jump.nudge > 0.0 {
            found.push(Outcome::new(
                "jumping past a corner overhead by",
                "m",
                nudged(tuning),
                Some(f64::from(jump.nudge)),
            ));
        }
    }
    found
}

/// How soon dashes follow, how many in the air, and the speed after one.
fn dashes(tuning: &Tuning, dash: &newel::Dash) -> Vec<Outcome> {
    let is_dash = |kind: &EventKind| *kind == EventKind::Dashed;
    // Pressed again all the time: each press is one.
    let presses = (0..400).fold(Writing::default().face(Face::Nothing), |writing, n| {
        writing.press(0.1 + 0.01 * f64::from(n), Button::Dash, 0.005)
    });
    let presses = presses.script();
    let begun = |trial: &Trial| {
        trial.events.iter().filter(|event| is_dash(&event.kind)).map(|event| event.time).collect::<Vec<_>>()
    };
    let on_ground = Trial::new(&Ground::floor(), tuning, [0.0; 3]).map(|mut trial| {
        trial.play_until(&presses, 4.0, |t| begun(t).len() > 1);
        trial
    });
    let apart = on_ground.as_ref().and_then(|trial| begun(trial).get(1).zip(begun(trial).first()).map(|(b, a)| b - a));
    let deep = Ground::default().block([-9.0, -1e5, -9.0], [9.0, 1.0 - 1e5, 9.0]);
    let in_air = Trial::new(&deep, tuning, [0.0; 3]).map(|mut trial| {
        trial.play(&presses, 4.0);
        begun(&trial).len() as f64
    });
    let most = 4.0 / f64::from(dash.time + dash.cooldown).max(0.01);
    let said = Some(f64::from(dash.in_air)).filter(|count| *count < most);
    let ended = |kind: &EventKind| *kind == EventKind::DashEnded;
    let left = Trial::new(&deep, tuning, [0.0; 3]).and_then(|mut trial| {
        let once = Writing::default().face(Face::Nothing).press(0.1, Button::Dash, 0.005).script();
        trial.play_until(&once, 4.0, |t| t.first(ended).is_some());
        trial.first(ended).map(|event| event.velocity.x)
    });
    vec![
        Outcome::new("dashes follow after", "s", apart, None),
        Outcome::new("dashes in the air", "", in_air, said),
        Outcome::new("dash: speed left in the air", "m/s", left, None),
    ]
}

/// How soon slides follow, how far one leads down a slope, and how fast it turns.
fn slides(tuning: &Tuning) -> Vec<Outcome> {
    let run = |ground: &Ground, from: f64, writing: Writing| {
        let mut trial = Trial::new(ground, tuning, [from, 0.0, 0.0])?;
        let head = writing.face(Face::Movement).head(0.0, 1.0).at(0.0, Step::Button(Button::Sprint, true));
        trial.play(&head.script(), 9.0);
        Some(trial)
    };
    let times = |trial: &Trial, is: fn(&EventKind) -> bool| -> Vec<f64> {
        trial.events.iter().filter(|event| is(&event.kind)).map(|event| event.time).collect()
    };
    let begins = |kind: &EventKind| matches!(kind, EventKind::SlideBegan { .. });
    let ends = |kind: &EventKind| matches!(kind, EventKind::SlideEnded { .. });
    // Pressed anew all the time.
    let presses = (0..80).fold(Writing::default(), |w, n| w.press(2.0 + 0.05 * f64::from(n), Button::Slide, 0.02));
    let again = run(&Ground::floor(), 0.0, presses).and_then(|trial| {
        let ended = times(&trial, ends).first().copied()?;
        times(&trial, begins).into_iter().find(|began| *began > ended).map(|began| began - ended)
    });
    let held = Writing::default().press(4.0, Button::Slide, 60.0);
    let downhill = run(&Ground::quay().ramp(-SLOPE), -24.0, held.clone());
    let fast = downhill.and_then(|trial| {
        let began = times(&trial, begins).first().copied()?;
        trial.samples.iter().find(|s| s.time > began + 1.0).map(|s| s.velocity.length())
    });
    let aside = Step::Heading(Heading::World(Vec3::Z));
    let turned = run(&Ground::floor(), 0.0, held.at(4.0, aside)).and_then(|trial| {
        let began = times(&trial, begins).first().copied()?;
        let at = trial.samples.iter().find(|s| s.time > began + 0.2)?;
        Some(at.velocity.z.atan2(at.velocity.x).to_degrees())
    });
    vec![
        Outcome::new("slide: the next after", "s", again, None),
        Outcome::new("slide: a second down 15 degrees, at", "m/s", fast, None),
        Outcome::new("slide: turns aside in 0.2 s by", "deg", turned, None),
    ]
}

/// The time in which a fall of 20 m/s along a wall is slowed to the speed of a wall slide.
fn braked(tuning: &Tuning, speed: f64) -> Option<f64> {
    let wall = Ground::default().block([2.0, -4000.0, -50.0], [3.0, 400.0, 50.0]);
    let near = 2.0 - f64::from(tuning.values().size.radius) - 0.01;
    let mut trial = Trial::new(&wall, tuning, [near, 100.0, 0.0])?;
    let throw = newel::Command::from(newel::Launch::at(DVec3::NEG_Y * 20.0));
    let script = Writing::default().at(0.0, Step::Command(throw)).head(0.0, 1.0).script();
    trial.play_until(&script, LONGEST, |t| t.hero.clock > 0.1 && -t.hero.velocity.y <= 1.001 * speed);
    (-trial.hero.velocity.y <= 1.001 * speed).then_some(trial.hero.clock)
}

/// Where it hovers at rest over the ground, or how fast it goes in a wind.
fn hovered(tuning: &Tuning, wind: f64) -> Option<DVec3> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0, 0.5, 0.0])?;
    if wind > 0.0 {
        let gale = Effect::Wind(Wind::steady(Vec3::X * wind as f32));
        trial = trial.in_zone(Zone::new(1, DVec3::splat(-1e4), DVec3::splat(1e4), gale));
    }
    trial.play(&Writing::default().face(Face::Nothing).press(0.05, Button::Hover, 0.01).script(), 9.0);
    (trial.hero.mode == Mode::Hover).then(|| DVec3::new(trial.hero.velocity.x, trial.hero.position.y, 0.0))
}

/// The least angle down of the view at which a heading ahead leads a swimmer under.
fn dives_from(tuning: &Tuning) -> Option<f64> {
    let sea = Effect::Water(Water::flat(DVec3::ZERO, Vec3::Y));
    let sea = Zone::new(1, DVec3::new(-1e3, -60.0, -1e3), DVec3::new(1e3, 0.0, 1e3), sea);
    let bottom = Ground::default().block([-1e3, -60.0, -1e3], [1e3, -50.0, 1e3]);
    let height = f64::from(tuning.shape().height);
    let stays_up = |degrees: f64| {
        let Some(trial) = Trial::new(&bottom, tuning, [0.0, -0.9 * height, 0.0]) else { return false };
        let mut trial = trial.in_zone(sea);
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let view = Step::View(Vec3::new(cosine as f32, -sine as f32, 0.0));
        let script =
            Writing::default().at(0.0, view).at(3.0, Step::Heading(Heading::View(newel::glam::Vec2::Y))).script();
        trial.play(&script, 4.5);
        trial.hero.position.y > -1.2 * height
    };
    largest_within(ANGLE, 1.0, 89.0, stays_up).filter(|most| *most < 89.0)
}

/// The speed sideways of a jump off a slope.
fn leaned(tuning: &Tuning) -> Option<f64> {
    let (sine, cosine) = SLOPE.to_radians().sin_cos();
    let at = [25.0 * cosine, 25.0 * sine + 0.5, 0.0];
    let mut trial = Trial::new(&Ground::default().ramp(SLOPE), tuning, at)?;
    let jumped = |kind: &EventKind| matches!(kind, EventKind::Jumped { .. });
    trial.play_until(&Writing::default().press(1.0, Button::Jump, 1.0).script(), 2.0, |t| t.first(jumped).is_some());
    Some(trial.first(jumped)?.velocity.x.abs())
}

/// How far the edge of a low ceiling may reach over its middle for a jump to go past it.
fn nudged(tuning: &Tuning) -> Option<f64> {
    let (radius, height) = (f64::from(tuning.values().size.radius), f64::from(tuning.shape().height));
    let low = height + 0.2 * f64::from(tuning.values().jump.map_or(1.0, |jump| jump.height));
    let passes = |reach: f64| {
        let ground = Ground::floor().block([radius - reach, low, -50.0], [9.0, low + 0.2, 50.0]);
        let Some(mut trial) = Trial::new(&ground, tuning, [0.0; 3]) else { return false };
        trial.play(&Writing::default().press(0.1, Button::Jump, LONGEST).script(), 2.0);
        trial.first(|kind| matches!(kind, EventKind::Bumped { .. })).is_none()
    };
    largest(0.001, 2.0 * radius, passes)
}
