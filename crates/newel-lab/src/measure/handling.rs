//! Finer points of walking and landing: slopes, crests, floors that are dropped through, footsteps, the stick, sprinting aside, hard landings
//! and what moves.

use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Button, Command, Effect, EventKind, Face, Form, Heading, Launch, Mode, Modifiers, Scene, Solid, Spawn, Tuning,
    Water, Zone,
};

use super::Outcome;
use super::formula::Fall;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest, largest_within};
use crate::course::Step;

/// Long enough for anybody to be at top speed, seconds, and longer than anything here takes.
const AT_TOP: f64 = 4.0;
const LONGEST: f64 = 30.0;
/// Angles are found to within this, degrees.
const ANGLE: f64 = 0.04;
/// The fall of the trials, metres, and the belt, m/s.
const FALL: f64 = 10.0;
const BELT: f64 = 2.0;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let slope = 0.5 * f64::from(values.ground.steepest);
    let mut found = vec![
        Outcome::new("up half the steepest slope", "m/s", along_a_slope(tuning, slope, 1.0), None),
        Outcome::new("down half the steepest slope", "m/s", along_a_slope(tuning, slope, -1.0), None),
        Outcome::new("keeps to the ground over a crest that bends by", "deg", bend(tuning), None),
        Outcome::new("counts as moving from", "m/s", told(tuning, true), Some(f64::from(values.gait.moving))),
        Outcome::new("counts as standing below", "m/s", told(tuning, false), Some(f64::from(values.gait.still))),
        Outcome::new("half of the stick", "m/s", half_a_stick(tuning), None),
    ];
    found.extend(stepped(tuning));
    found.extend(footsteps(tuning));
    if values.sprint.is_some() && tuning.shape().form == Form::Capsule {
        found.extend(sprint_aside(tuning));
    }
    found
}

/// Of leaving the ground and coming down.
pub(super) fn landings(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let mut found = vec![
        Outcome::new("clings to what it leaves for", "s", clung(tuning), None),
        Outcome::new("hits on walls told from", "m/s", hits_from(tuning), Some(f64::from(values.impact.told))),
    ];
    found.extend(hard_landing(tuning));
    if values.ground.drops > 0.0 {
        found.push(Outcome::new("dropping through, floors passed down to", "m", dropped(tuning), None));
    }
    if values.jump.is_some() {
        let said = BELT * f64::from(values.air.carried);
        found.push(Outcome::new("jumping off a belt of 2 m/s", "m/s", off_a_belt(tuning), Some(said)));
    }
    found
}

/// The speed along a slope, up or down it.
fn along_a_slope(tuning: &Tuning, degrees: f64, sense: f64) -> Option<f64> {
    let ground = Ground::default().ramp(degrees);
    let (sine, cosine) = degrees.to_radians().sin_cos();
    // In the middle of it, a hand over the ground.
    let at = [25.0 * cosine, 25.0 * sine + 1.0, 0.0];
    let mut trial = Trial::new(&ground, tuning, at)?;
    let heads = Writing::default().face(Face::Movement).head(1.5, sense);
    trial.play_until(&heads.script(), AT_TOP, |t| (t.hero.position.x - at[0]).abs() > 20.0 * cosine);
    (trial.hero.mode == Mode::Ground).then_some(trial.hero.velocity.length())
}

/// The sharpest bend of level ground downhill that it runs over at full speed without leaving the ground, degrees.
fn bend(tuning: &Tuning) -> Option<f64> {
    let mut trial = Trial::new(&Ground::quay(), tuning, [-40.0, 0.0, 0.0])?;
    let script = Writing::default().face(Face::Movement).head(0.0, 1.0).script();
    trial.play_until(&script, LONGEST, |t| t.hero.position.x > -1.0);
    let approach = trial;
    let holds = |degrees: f64| {
        let mut trial = approach.moved_to(&Ground::quay().ramp(-degrees));
        trial.play_until(&script, LONGEST, |t| t.hero.position.x > 2.0 || t.hero.mode != Mode::Ground);
        trial.hero.mode == Mode::Ground
    };
    largest_within(ANGLE, 1.0, f64::from(tuning.values().ground.steepest) - 0.5, holds)
}

/// The steady speed from which it counts as moving, setting out, or below which it counts as standing, coming from full speed.
fn told(tuning: &Tuning, moving: bool) -> Option<f64> {
    let at = |part: f64| {
        let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
        let writing =
            Writing::default().face(Face::Movement).head(0.0, if moving { part } else { 1.0 }).head(1.5, part);
        trial.play(&writing.script(), if moving { 1.5 } else { 3.0 });
        Some(trial)
    };
    let stands = |part: f64| at(part).and_then(|trial| trial.readout).is_some_and(|readout| !readout.moving);
    let most = largest_within(5e-6, 1e-4, 1.0, stands)?;
    at(most).map(|trial| trial.hero.velocity.length())
}

fn half_a_stick(tuning: &Tuning) -> Option<f64> {
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
    let part = tuning.values().stick.shaped(Vec2::new(0.0, 0.5)).y;
    trial.play(&Writing::default().face(Face::Movement).head(0.0, f64::from(part)).script(), AT_TOP);
    Some(trial.hero.velocity.length())
}

/// The speed that is left by a step half as high as the highest, at full speed.
fn stepped(tuning: &Tuning) -> Option<Outcome> {
    let ground = tuning.values().ground;
    let high = 0.5 * f64::from(ground.step);
    let floors = Ground::floor().block([30.0, -1.0, -50.0], [90.0, high, 50.0]);
    let mut trial = Trial::new(&floors, tuning, [0.0; 3]).filter(|_| high > 0.0 && ground.step_loss > 0.0)?;
    let steps = |kind: &EventKind| matches!(kind, EventKind::Stepped { .. });
    trial.play_until(&Writing::default().face(Face::Movement).head(0.0, 1.0).script(), LONGEST, |t| {
        t.first(steps).is_some()
    });
    let left = trial.first(steps).map(|_| trial.hero.velocity.x);
    Some(Outcome::new("speed after a step half as high as the highest", "m/s", left, None))
}

/// How far apart footsteps are, at top speed.
fn footsteps(tuning: &Tuning) -> Option<Outcome> {
    let stride = f64::from(tuning.values().gait.stride);
    let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3]).filter(|_| stride > 0.0)?;
    trial.play(&Writing::default().face(Face::Movement).head(0.0, 1.0).script(), AT_TOP + 1.0);
    let steps: Vec<f64> = trial
        .events
        .iter()
        .filter(|event| event.time > 2.0 && matches!(event.kind, EventKind::Footstep { .. }))
        .map(|event| event.place.x)
        .collect();
    let apart = steps.windows(2).next().map(|pair| pair[1] - pair[0]);
    Some(Outcome::new("footsteps apart", "m", apart, Some(0.5 * stride)))
}

/// The slowest hit on a wall, in flight, that is told.
fn hits_from(tuning: &Tuning) -> Option<f64> {
    let radius = f64::from(tuning.values().size.radius);
    let wall = Ground::default().block([radius + 0.02, -500.0, -50.0], [9.0, 500.0, 50.0]);
    let start = Trial::new(&wall, tuning, [0.0; 3])?;
    let hit = |speed: f64| {
        let throw = Command::from(Launch::at(DVec3::X * speed));
        let mut trial = start.moved_to(&wall);
        trial.play(&Writing::default().at(0.0, Step::Command(throw)).script(), 0.04 / speed.max(0.1) + 0.02);
        let hits = |kind: &EventKind| matches!(kind, EventKind::HitWall { .. });
        match trial.first(hits).map(|event| event.kind) {
            Some(EventKind::HitWall { speed, .. }) => Some(f64::from(speed)),
            _ => None,
        }
    };
    let quiet = largest(0.01, 60.0, |speed| hit(speed).is_none())?;
    hit(quiet * 1.0001)
}

/// A fall of ten metres: what damage it does, after how long full speed is back, and what water takes of it.
fn hard_landing(tuning: &Tuning) -> Vec<Outcome> {
    let impact = tuning.values().impact;
    let fall = |writing: Writing, water: f64| {
        let mut trial = Trial::new(&Ground::floor(), tuning, [0.0, FALL, 0.0])?;
        if water > 0.0 {
            let sea = Effect::Water(Water::flat(DVec3::Y * water, Vec3::Y));
            trial = trial.in_zone(Zone::new(1, DVec3::new(-1e3, -1.0, -1e3), DVec3::new(1e3, water, 1e3), sea));
        }
        let script = writing.script();
        let landed = |t: &Trial| t.first(is_landing).is_some();
        trial.play_until(&script, LONGEST, landed);
        Some((trial, script))
    };
    let landing = |trial: &Trial| match trial.first(is_landing).map(|event| event.kind) {
        Some(EventKind::Landed { hardness, damage, .. }) => Some((f64::from(hardness), f64::from(damage))),
        _ => None,
    };
    let dry = fall(Writing::default(), 0.0).and_then(|(trial, _)| landing(&trial));
    let said = Fall::of(tuning).plain().over(FALL).1;
    let said = f64::from(impact.damage) * (said - f64::from(impact.safe)).max(0.0);
    let mut found = vec![Outcome::new("a fall of 10 m: damage", "", dry.map(|hit| hit.1), Some(said))];
    let shallow = 0.25 * f64::from(tuning.shape().height);
    if impact.softened > 0.0 {
        let wet = fall(Writing::default(), shallow).and_then(|(trial, _)| landing(&trial));
        found.push(Outcome::new("the same into water to the knees: hardness", "", wet.map(|hit| hit.0), None));
    }
    if impact.slowed < 1.0 && impact.lasts > 0.0 {
        let top = 0.999 * f64::from(tuning.values().ground.speed);
        let back = fall(Writing::default().face(Face::Movement).head(0.0, 1.0), 0.0).and_then(|(mut trial, script)| {
            let from = trial.first(is_landing)?.time;
            let slow = |t: &Trial| t.hero.clock > from + 0.1 && t.hero.velocity.length() >= top;
            trial.play_until(&script, LONGEST, slow);
            Some(trial.hero.clock - from)
        });
        found.push(Outcome::new("the same, heading on: full speed after", "s", back, None));
    }
    found
}

fn is_landing(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Landed { .. })
}

/// How far under a floor that it drops through the lowest one is that it passes as well.
fn dropped(tuning: &Tuning) -> Option<f64> {
    let floors = |apart: f64| {
        let floor = |top: f64| ([-9.0, top - 0.02, -9.0], [9.0, top, 9.0]);
        let (a, b) = (floor(0.0), floor(-apart));
        Ground::default().block(a.0, a.1).block(b.0, b.1).passed_from_below()
    };
    let height = f64::from(tuning.shape().height);
    let passes = |apart: f64| {
        let Some(mut trial) = Trial::new(&floors(apart), tuning, [0.0; 3]) else { return false };
        let script = Writing::default().press(0.5, Button::Drop, 0.05).script();
        let below = -apart - 0.5;
        trial.play_until(&script, LONGEST, |t| {
            t.hero.position.y < below || (t.hero.clock > 1.0 && t.hero.mode == Mode::Ground)
        });
        trial.hero.position.y < below
    };
    largest_within(1e-3, 0.05, 3.0 * height + 20.0, passes)
}

/// How long it is pulled toward a ceiling that it clung to and floats away from, with nothing to fall by.
fn clung(tuning: &Tuning) -> Option<f64> {
    let height = f64::from(tuning.shape().height);
    let ceiling = Ground::default().block([-9.0, 0.0, -9.0], [9.0, 1.0, 9.0]).mesh();
    let spawn = Spawn::at(DVec3::NEG_Y * 0.01).up(Vec3::NEG_Y).pulled(Vec3::NEG_Y).clinging();
    let mut trial = Trial::spawned(Scene::new().with(ceiling), tuning, spawn)?;
    let throw = Command::from(Launch::at(DVec3::NEG_Y * 0.01 * height));
    let floats = Modifiers { gravity: 0.0, ..Modifiers::default() };
    let script = Writing::default().at(0.0, Step::Modifiers(floats)).at(0.5, Step::Command(throw)).script();
    let turned = |kind: &EventKind| matches!(kind, EventKind::GravityTurned { .. });
    let longest = 1.0 + 2.0 * f64::from(tuning.values().air.clings);
    trial.play_until(&script, longest, |t| t.hero.clock > 0.5 && t.first(turned).is_some());
    Some(trial.first(turned)?.time - 0.5)
}

/// The speed along it after jumping straight up off a belt.
fn off_a_belt(tuning: &Tuning) -> Option<f64> {
    let belt = Solid::mesh(Ground::floor().mesh()).with_belt(DVec3::X * BELT);
    let mut scene = Scene::new();
    scene.add(1, belt, DVec3::ZERO, DQuat::IDENTITY).ok()?;
    let mut trial = Trial::in_scene(scene, tuning, [0.0; 3])?;
    let jumped = |kind: &EventKind| matches!(kind, EventKind::Jumped { .. });
    let script = Writing::default().face(Face::Nothing).press(0.5, Button::Jump, 1.0).script();
    trial.play_until(&script, 2.0, |t| t.first(jumped).is_some());
    Some(trial.first(jumped)?.velocity.x)
}

/// A sprint, facing ahead: sideways, backward, and how far the heading may turn without ending it.
fn sprint_aside(tuning: &Tuning) -> Vec<Outcome> {
    let way = |degrees: f64| {
        let (sine, cosine) = degrees.to_radians().sin_cos();
        Step::Heading(Heading::World(Vec3::new(cosine as f32, 0.0, sine as f32)))
    };
    let run = |degrees: f64, turns: f64, ends: f64| {
        let mut trial = Trial::new(&Ground::floor(), tuning, [0.0; 3])?;
        let sprint = Step::Button(Button::Sprint, true);
        let ahead = Writing::default().face(Face::Nothing).at(0.0, sprint).head(0.0, 1.0);
        trial.play(&ahead.at(turns, way(degrees)).script(), ends);
        Some(trial)
    };
    let speed = |degrees: f64| run(degrees, 0.0, AT_TOP).map(|trial| trial.hero.velocity.length());
    let goes_on =
        |degrees: f64| run(degrees, 1.5, 2.0).and_then(|trial| trial.readout).is_some_and(|readout| readout.sprinting);
    vec![
        Outcome::new("sprint: top speed sideways", "m/s", speed(90.0), None),
        Outcome::new("sprint: top speed backward", "m/s", speed(180.0), None),
        Outcome::new(
            "sprint: goes on with the heading aside up to",
            "deg",
            largest_within(ANGLE, 1.0, 180.0, goes_on),
            None,
        ),
    ]
}
