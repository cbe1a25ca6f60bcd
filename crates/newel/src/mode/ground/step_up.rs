//! Steps: up, forward, down, and only if it ends on walkable ground no higher than the step height.

use glam::{DVec3, Vec3};

use super::footwork::{begin_stride, flat_velocity, follow, lift, piece, settle_down, stand_on};
use super::walking::walking;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::explain::{Seen, StepResult};
use crate::math::{direction, flatten};
use crate::motion::Ramp;
use crate::run::Run;
use crate::support::{Ground, Support};
use crate::walls::Walls;

/// Walls slid along in one step, at most.
const MOST_SLIDES: usize = 3;
/// How far beyond a blunt obstacle a footing is looked for, in parts of the radius, nearest first.
const PROBES: [f32; 4] = [0.25, 0.5, 0.75, 1.0];

/// And how far on a way that leads over it askew, in parts of the radius.
const FARTHEST: f32 = 2.0;

/// A contact that less than this part of the way leads into is a wall already: more is told of by no rounding.
const ALONG: f64 = 1e-4;

/// A blunt contact that less than this part of the way leads into is a wall, not a step.
const GLANCING: f64 = 0.1;

/// Takes a step over what was met, walking on along `ramp` for at most `rest` seconds more.
/// Returns the seconds used, or `None`, with nothing changed, where there is no step to take.
pub(super) fn step_up(run: &mut Run<'_>, contact: &Contact, ramp: &Ramp, rest: f64) -> Option<f64> {
    let into = direction(flatten(-contact.normal, run.me.up))?;
    let going = going(ramp, rest);
    if run.staying.step <= 0.0 || going.dot(into.as_dvec3()) <= ALONG * going.length() {
        return None;
    }
    let before = run.before();
    let height = (contact.point - run.near.local()).dot(run.me.up);
    let tried = match run.near.rim_of(contact, &run.staying) {
        Some(tread) => onto_tread(run, contact, into, tread, ramp, rest),
        None => over_blunt(run, contact, into, ramp, rest),
    };
    let result = tried.err().unwrap_or(StepResult::Taken);
    run.near.tell(|near| Seen::Step { met: near.seen(contact), height, result });
    if tried.is_err() {
        run.back_to(&before);
    }
    tried.ok()
}

/// Which way it goes: from rest, the way it sets out.
fn going(ramp: &Ramp, rest: f64) -> DVec3 {
    if ramp.start() == DVec3::ZERO { ramp.at(rest) } else { ramp.start() }
}

/// The seconds used by a step, or why it is not taken.
type Tried = Result<f64, StepResult>;

/// The most the feet may rise now: the step height, measured from what carries them.
pub(super) fn most_rise(run: &Run<'_>) -> f32 {
    let below = (run.near.place - run.ground.point).dot(run.up()) as f32;
    run.staying.step - below + 2.0 * run.near.shape.touching()
}

/// Over the sharp rim of a tread: the foot rolls up onto it as far as the time goes, if there is room on top.
fn onto_tread(run: &mut Run<'_>, contact: &Contact, into: Vec3, tread: Vec3, ramp: &Ramp, rest: f64) -> Tried {
    let up = run.me.up;
    let height = (contact.point - run.near.local()).dot(up);
    let most = most_rise(run);
    if height > most {
        return Err(StepResult::TooHigh { most });
    }
    let clearance = 2.0 * run.near.shape.touching();
    // Before anything is gathered anew, as of which the touch would be somewhere else.
    let rim = run.near.ground_at(contact, Support::Edge, tread);
    let over = flatten(contact.point - run.near.local(), up).length() - run.staying.overhang;
    let raise = raised(run, height.max(0.0) + clearance).ok_or(StepResult::NoHeadroom)?;
    // Room on top: as far as it takes to stand firmly.
    if over > 0.0 {
        let over = over.min(2.0 * run.near.shape.radius);
        let lifted = run.near.place;
        if run.near.push(into * over).1.is_some() {
            return Err(StepResult::NoRoomOnTop);
        }
        run.near.place = lifted;
    }
    let same = rim.body == run.ground.body;
    let used = if same { roll_on(run, raise, (tread, None), ramp, rest) } else { roll_aboard(run, raise, rim, rest) };
    used.ok_or(StepResult::NoWay)
}

/// The same onto another body, by which it is carried from where it met it.
fn roll_aboard(run: &mut Run<'_>, raise: f32, rim: Ground, rest: f64) -> Option<f64> {
    let own = flat_velocity(run.me.velocity, run.up());
    let base = run.near.place - run.up() * f64::from(raise);
    run.step_met = Some((base, run.near.time()));
    let own = own + run.take_ground(rim);
    run.step_met = None;
    run.me.velocity = lift(own, rim.normal, run.me.up);
    let ramp = walking(run);
    roll_on(run, raise, (rim.normal, Some(rim)), &ramp, rest)
}

/// Over something blunt, or higher than the round of the foot: where up the whole step height, forward to the first place
/// that carries, and down leads to, it is stepped to from here.
fn over_blunt(run: &mut Run<'_>, contact: &Contact, into: Vec3, ramp: &Ramp, rest: f64) -> Tried {
    let way = going(ramp, rest);
    let (length, across) = (way.length(), f64::from(flatten(contact.normal, run.me.up).length()));
    // Along the ground it walks on: over the map what is gone along on a slope seems to be entered.
    let enters = -lift(way, run.ground.normal, run.me.up).dot(contact.normal.as_dvec3()) / across;
    let part = way.dot(into.as_dvec3());
    if enters.min(part) < GLANCING * length {
        return Err(StepResult::NoWay);
    }
    // On the way it goes, as far into it as a foot reaches.
    let (way, part) = ((way / length).as_vec3(), (part / length) as f32);
    let raise = most_rise(run);
    let base = run.near.place;
    let highest = base.dot(run.up()) + f64::from(raise);
    let raise = raised(run, raise).ok_or(StepResult::NoHeadroom)?;
    let lifted = run.near.place;
    for probe in PROBES {
        run.near.place = lifted;
        let ahead = probe * run.near.shape.radius / part;
        if ahead > FARTHEST * run.near.shape.radius {
            break;
        }
        if run.near.push(way * ahead).1.is_some() {
            return Err(StepResult::NoRoomOnTop);
        }
        if run.near.push(run.me.up * -raise).1.is_some() {
            let found = run.near.ground(&run.staying);
            let rise = (run.near.place - base).dot(run.up()) as f32;
            // The height of the support counts, not how far the round of the foot has risen beside it.
            if found.is_firm() && found.ground.point.dot(run.up()) <= highest {
                run.near.place = base;
                let flat = ramp.start() * kept(run, rise);
                begin_stride(run, way, ahead, flat);
                return Ok(0.0);
            }
        }
    }
    Err(StepResult::NoFooting)
}

/// Rises by `raise`, or as far as there is room; returns how far.
fn raised(run: &mut Run<'_>, raise: f32) -> Option<f32> {
    let free = if raise > 0.0 { run.near.push(run.me.up * raise).0 * raise } else { 0.0 };
    (free > 4.0 * run.near.shape.tolerance()).then_some(free)
}

/// From a raised pose: forward over the tread as far as the time goes, then down onto what carries; or onto the rim that it boards.
fn roll_on(
    run: &mut Run<'_>,
    raise: f32,
    (tread, boards): (Vec3, Option<Ground>),
    ramp: &Ramp,
    rest: f64,
) -> Option<f64> {
    let up = run.me.up;
    let base = run.near.place - run.up() * f64::from(raise);
    let met = run.near.time();
    let used = forward(run, tread, ramp, piece(run, ramp, rest));
    if used <= 0.0 {
        return None;
    }
    let lifted = run.near.place;
    run.near.push(up * -raise);
    let mut found = settle_down(run)?;
    // A way down that leads aside leads back to the start.
    if flatten((run.near.place - lifted).as_vec3(), up).length() > run.near.shape.touching() {
        return None;
    }
    if let Some(rim) = boards.filter(|rim| rim.body != found.ground.body) {
        // So little later what it left touches as well: that takes it back no more than it would have held it.
        found.ground = rim;
    }
    run.stepped(raise + (run.near.place - lifted).dot(run.up()) as f32);
    let rise = (run.near.place - base).dot(run.up()) as f32;
    run.me.velocity = lift(ramp.at(used) * kept(run, rise), run.ground.normal, up);
    run.step_met = Some((base, met));
    stand_on(run, &found);
    run.step_met = None;
    Some(used)
}

/// The part of the speed that is kept on rising by `rise`: as a power, so that a step taken in pieces costs the same.
fn kept(run: &Run<'_>, rise: f32) -> f64 {
    let ground = run.tuning.values().ground;
    if ground.step_loss == 0.0 || rise <= 0.0 || run.displaced.is_some() {
        return 1.0;
    }
    libm::pow(1.0 - f64::from(ground.step_loss), f64::from(rise / ground.step))
}

/// Moves along the ramp over a slope for at most `span` seconds; returns the seconds used. Slides along walls, and stops
/// at what may be the next step.
fn forward(run: &mut Run<'_>, slope: Vec3, ramp: &Ramp, span: f64) -> f64 {
    let up = run.me.up;
    let (mut used, hit) = run.near.sweep(&run.carried_along(follow(ramp, slope, up, span)));
    let mut met = hit;
    let mut walls = Walls::default();
    for _ in 0..MOST_SLIDES {
        let Some(contact) = met.filter(|c| !may_be_stepped_over(run, c)) else { break };
        walls.add(contact);
        let flat = walls.on_ground(slope, up, run.carried).admissible(ramp.at(used));
        let rest = Path { velocity: lift(flat, slope, up), rate: DVec3::ZERO, span: span - used };
        if flat == DVec3::ZERO {
            break;
        }
        let (more, hit) = run.near.sweep(&run.carried_along(rest));
        (used, met) = (used + more, hit);
    }
    used
}

/// True where there is room to go on over what was met, a step height up: then it is no wall.
fn may_be_stepped_over(run: &mut Run<'_>, contact: &Contact) -> bool {
    let Some(into) = direction(flatten(-contact.normal, run.me.up)) else { return false };
    run.elsewhere(|run| {
        run.near.push(run.me.up * run.staying.step);
        run.near.push(into * (PROBES[0] * run.near.shape.radius)).1.is_none()
    })
}
