//! The edge guard: what walks low may be tuned never to walk off an edge, and any intent may want it. It stops at the lip, or goes along it.
//!
//! Where the lip is the one decision what ground is says, with a little less overhang than it would take to slip off. Along it the
//! walk goes in small steps: of the ways about the heading the nearest one under which there is ground. So a lip may be
//! anything: an edge that tilts, a corner, the shoulder of a dome.

use glam::DVec3;

use super::footwork::{flat_velocity, lift, settle_down, stand_on};
use super::walking::toward;
use super::{Walk, arriving, losing};
use crate::contact::arcs::Path;
use crate::contact::ground::Decision;
use crate::contact::slide::Planes;
use crate::limits::Limits;
use crate::math::{flatten64, turned_left64};
use crate::mode::trail::Trail;
use crate::phase::Mode;
use crate::run::{HARDLY, Run};
use crate::support::Support;

/// The part of the overhang that a guarded foot uses: what is left of it is between the lip and a fall.
const USED: f32 = 0.98;
/// A foot this near to its overhang, as a part of that, is at the lip.
const AT_IT: f32 = 1e-3;
/// The longest step along a lip, in parts of the overhang, which is the radius of the way round a corner; and at least in parts of
/// the radius.
const STEP: f64 = 0.1;
const LEAST_STEP: f64 = 0.01;
/// How steeply a foot rolled over an edge may have to rise: as at an overhang of nearly all its radius.
const RISING: f64 = 4.0;
/// Ways tried to either side of the heading, up to a quarter turn, and halvings between two of them.
const WAYS: i32 = 8;
const HALVINGS: usize = 9;
/// How near to where an edge or a corner would have it it is looked for first, and how near to the turn it had next, radians.
const AS_WORKED_OUT: f64 = 3e-4;
const AS_BEFORE: f64 = 0.012;
/// Turned less than this, radians, there is hardly a nearer way on the other side of the heading.
const ONE_SIDED: f64 = 1.2;
/// And how much further in than found a step is tried, radians.
const INWARD: [f64; 6] = [0.0, 1e-3, 4e-3, 0.016, 0.064, 0.25];
/// A way that leads on by less than this part of it does not lead on.
const LEADS_ON: f64 = 2e-3;

/// Whether the walk is guarded now.
pub(super) fn applies(run: &Run<'_>) -> bool {
    let wanted = run.wants_guard || run.low().is_some_and(|low| low.guard);
    wanted && run.me.mode == Mode::Ground && !run.is_on_rails() && !run.me.keeps.is_top_view(run.me.up)
}

/// Does `walk` with the guard on.
pub(super) fn guarded(run: &mut Run<'_>, walk: impl FnOnce(&mut Run<'_>) -> f64) -> f64 {
    run.staying = Limits { overhang: run.limits.overhang * USED, evenly: true, ..run.staying };
    // A character that was further out on a slope before the guard began is judged on the flat until it is further in.
    run.staying.evenly = !is_over_an_edge(run, 1.0 + AT_IT);
    run.guarded = true;
    let used = walk(run);
    run.guarded = false;
    // As it is by now: it may have got up.
    run.look_for_ground_anew();
    used
}

/// A piece of way has led off the ground: back along it to where that ended. Returns the seconds used.
pub(super) fn hold_back(run: &mut Run<'_>, walk: &Walk, trail: &Trail, used: f64) -> f64 {
    let mut place = trail.from;
    let (held, _) = trail.last(run, used, |run, _| {
        let before = run.before();
        let carries = settle_down(run).is_some();
        if carries {
            place = run.near.place;
        }
        run.back_to(&before);
        carries
    });
    trail.stand_at(run, place, held);
    run.me.velocity = walk.path.velocity_at(held);
    if let Some(found) = settle_down(run) {
        stand_on(run, &found);
    } else if !is_carried_here(run) {
        // Pushed off it, or where it is gone, there is nothing to hold it back to.
        return losing::at_last_support(run, trail, &walk.path, used);
    }
    run.lip_at = Some(run.near.place);
    run.held_at = run.lip_at;
    // The next piece leads along the lip, unless another body moves into it meanwhile: until then it waits, and that pushes it off. No guard
    // holds anybody in what comes.
    let met = if held < HARDLY { until_met(run, used - held) } else { None };
    match met {
        None => held,
        Some(waited) if waited < HARDLY => losing::at_last_support(run, trail, &walk.path, used),
        Some(waited) => held + wait(run, waited),
    }
}

/// Goes along the lip that it stands at for at most `span` seconds; returns the seconds used, or `None` where it stands at none.
pub(super) fn along_the_lip(run: &mut Run<'_>, span: f64) -> Option<f64> {
    if !run.guarded || !(run.lip_at == Some(run.near.place) || is_over_an_edge(run, 1.0 - AT_IT)) {
        return None;
    }
    if run.near.patch.is_moving() && (until_met(run, span).is_some() || !is_carried_here(run)) {
        return None;
    }
    let flat = flat_velocity(run.me.velocity, run.up());
    let wish = run.wish();
    let wish = arriving::limited(run, wish);
    let going = if wish == DVec3::ZERO { flat } else { wish };
    let about = f64::from(run.staying.overhang) * STEP;
    let step = about.max(LEAST_STEP * f64::from(run.near.shape.radius));
    let going = going / going.length();
    // Most likely it goes on as it went.
    let went = if flat == DVec3::ZERO { 0.0 } else { libm::atan2(run.up().dot(going.cross(flat)), going.dot(flat)) };
    let Some((way, turn)) = nearest_way(run, going, went, step) else { return wait_if_carried(run, span) };
    let mut planes = Planes::default();
    if turn != 0.0 {
        // The lip is to the left of a way that leads on to the right of the heading.
        planes.add(turned_left64(way, run.up(), core::f64::consts::FRAC_PI_2.copysign(turn)));
    }
    let ramp = toward(run, planes.admissible(flat), planes.admissible(wish), wish);
    let fastest = ramp.start().length().max(ramp.at(span).length());
    let span = if ramp.duration() > 0.0 { span.min(ramp.duration()) } else { span };
    let span = if fastest * span > step { step / fastest } else { span };
    let from = run.near.place;
    let by = ramp.mean(span) * span;
    let Some(found) = shorter_step(run, from, by, turn) else {
        run.near.place = from;
        return wait_if_carried(run, span);
    };
    if found.ground.body != run.ground.body {
        // Onto something that moves otherwise it walks: this step takes no account of what moves while it is made.
        run.near.place = from;
        return None;
    }
    run.me.velocity = lift(ramp.at(span), run.ground.normal, run.me.up);
    stand_on(run, &found);
    let used = ride_on(run, span);
    run.lip_at = Some(run.near.place);
    if turn != 0.0 {
        run.held_at = run.lip_at;
    }
    Some(used)
}

/// How long it can stand where it is, carried by what it stands on, until another body moves into it; `None` where nothing does within
/// `span` seconds.
fn until_met(run: &mut Run<'_>, span: f64) -> Option<f64> {
    let still = Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span };
    let way = run.carried_along(still);
    let trail = Trail::begin(run, way);
    let (waited, met) = run.near.sweep(&way);
    trail.stand_at(run, trail.from, 0.0);
    met.filter(|contact| run.near.patch.body(contact.body).id != run.ground.body).map(|_| waited)
}

/// True where there is ground under it, if only as much as does not make it slip: to none no guard can hold it, once what moves has
/// pushed it off.
fn is_carried_here(run: &mut Run<'_>) -> bool {
    let before = run.before();
    run.staying = run.limits.to_stay();
    let carries = settle_down(run).is_some();
    run.back_to(&before);
    carries
}

/// Waits where no way leads on; `None` where what it stood on is gone.
fn wait_if_carried(run: &mut Run<'_>, span: f64) -> Option<f64> {
    is_carried_here(run).then(|| wait(run, span))
}

/// No way leads on: it stands there, where nothing meets it for so long.
fn wait(run: &mut Run<'_>, span: f64) -> f64 {
    run.me.velocity = DVec3::ZERO;
    let from = run.near.place;
    run.leave_foothold();
    run.near.set_time(run.near.time() + span);
    run.carry_standing(from, span);
    run.held_at = Some(run.near.place);
    span
}

/// A step was made in no time: that passes for what it stands on, and carries it along until something else is in the way. Returns the
/// seconds until then.
fn ride_on(run: &mut Run<'_>, span: f64) -> f64 {
    let from = run.near.place;
    run.leave_foothold();
    if !run.near.patch.is_moving() {
        run.near.set_time(run.near.time() + span);
        return span;
    }
    let still = Path { velocity: DVec3::ZERO, rate: DVec3::ZERO, span };
    let (used, met) = run.near.sweep_with(run.ground.body, &run.carried_along(still));
    if met.is_none() {
        run.carry_standing(from, used);
    }
    used
}

/// A step on the way that a longer one was found for. It may be off by a hair: then it leads a little further in; or over a notch
/// between that and here, over which what does not make it slip carries it.
fn shorter_step(run: &mut Run<'_>, from: DVec3, by: DVec3, turn: f64) -> Option<Decision> {
    let up = run.up();
    let mut further_in = INWARD.iter().map(|more| turned_left64(by, up, more.copysign(turn)));
    let found = further_in.find_map(|by| step_to(run, from, by));
    let guarded = run.staying;
    found.or_else(|| {
        run.staying = run.limits.to_stay();
        let found = step_to(run, from, by);
        run.staying = guarded;
        found
    })
}

/// True where its foot is further over an edge than this part of how far it may be.
fn is_over_an_edge(run: &Run<'_>, part: f32) -> bool {
    let ground = &run.ground;
    let out = (run.near.place - ground.point).as_vec3() + run.me.up * run.near.shape.rounding();
    ground.support == Support::Edge && !run.staying.holds_beyond_rim(out, ground.normal, run.me.up, part)
}

/// The way nearest to `going` that a step leads on ground, and how far it is turned from that, radians to the left; `None` where
/// none leads on. Looked for first where an edge or a corner would have it, and then about `likely`, the turn that it had so far.
fn nearest_way(run: &mut Run<'_>, going: DVec3, likely: f64, step: f64) -> Option<(DVec3, f64)> {
    let (from, up) = (run.near.place, run.up());
    let keeps = run.me.keeps;
    let worked_out = worked_out(run, going, step);
    let way = |turn: f64| keeps.flat64(turned_left64(going, up, turn));
    let mut is_ground = |turn: f64| {
        let leans = run.leans;
        let found = step_to(run, from, way(turn) * step).is_some();
        (run.near.place, run.leans) = (from, leans);
        found
    };
    if is_ground(0.0) {
        return Some((going, 0.0));
    }
    let apart = core::f64::consts::FRAC_PI_2 / f64::from(WAYS);
    let mut about = |turn: f64, near: f64| {
        let (further, nearer) = (turn + near.copysign(turn), turn - near.copysign(turn));
        (turn.abs() > near && is_ground(further) && !is_ground(nearer)).then_some((further, nearer))
    };
    // From rest, on a lip all but square to the heading, the nearest way may be to the other side of it.
    let mut worked_out = worked_out.into_iter().filter(|turn| turn.abs() < ONE_SIDED || turn * likely > 0.0);
    let found = worked_out.find_map(|turn| about(turn, AS_WORKED_OUT).map(|pair| (pair, 0)));
    let found = found.or_else(|| about(likely, AS_BEFORE).map(|pair| (pair, HALVINGS - 3)));
    let ((mut some, mut none), halvings) = if let Some(found) = found {
        found
    } else {
        let ways = (1..=WAYS).flat_map(|i| [f64::from(i), -f64::from(i)]);
        let mut pairs = ways.map(|i| (i * apart, (i - i.signum()) * apart));
        (pairs.find(|(turn, _)| is_ground(*turn))?, HALVINGS)
    };
    for _ in 0..halvings {
        let middle = 0.5 * (some + none);
        (some, none) = if is_ground(middle) { (middle, none) } else { (some, middle) };
    }
    (libm::cos(some) > LEADS_ON).then(|| (way(some), some))
}

/// How far the way is turned from `going`, radians to the left, on which a step ends as far beyond the rim as may be: along a level
/// edge, and round its corner.
fn worked_out(run: &Run<'_>, going: DVec3, step: f64) -> [f64; 2] {
    let up = run.up();
    let out = flatten64(run.near.place - run.ground.point, up);
    let (beyond, most) = (out.length(), f64::from(run.staying.overhang));
    if beyond == 0.0 {
        return [0.0; 2];
    }
    let side = if up.cross(out).dot(going) < 0.0 { -1.0 } else { 1.0 };
    let ahead = libm::atan2(up.dot(going.cross(out)), going.dot(out));
    // How much of a step leads out.
    let along_edge = (most - beyond) / step;
    let round_corner = (most * most - beyond * beyond - step * step) / (2.0 * beyond * step);
    [along_edge, round_corner].map(|part| ahead + side * libm::acos(part.clamp(-1.0, 1.0)))
}

/// Steps from a place by a flat vector onto ground that carries; where there is none, or something is in the way, it is left
/// anywhere.
fn step_to(run: &mut Run<'_>, from: DVec3, by: DVec3) -> Option<Decision> {
    run.near.place = from;
    let mut free = run.near.push(by.as_vec3()).1.is_none();
    if !free {
        // A foot rolled over an edge may have to rise.
        run.near.place = from;
        let rise = (RISING * by.length()).min(f64::from(run.staying.step));
        run.near.push(run.me.up * rise as f32);
        free = run.near.push(by.as_vec3()).1.is_none();
    }
    // Without a step below there is no ground, and no search down along it.
    let slips = free && run.near.ground(&run.staying).ground.support == Support::Slipping;
    if free && !slips { settle_down(run) } else { None }
}
