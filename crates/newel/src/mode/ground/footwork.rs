//! Shared by walking and stepping: velocities laid on slopes, pieces of way, and settling onto the ground.

use glam::{DVec3, Vec3};

use crate::activity::StepOver;
use crate::coarse::CoarseDirection;
use crate::contact::arcs::Path;
use crate::contact::ground::{Decision, Footholds};
use crate::math::{flatten, flatten64};
use crate::mode::along_walls;
use crate::motion::Ramp;
use crate::run::Run;
use crate::shape::Form;
use crate::support::Support;

/// Leaning walls followed down in one settling, and how far that may lead aside, in parts of the radius.
const MOST_LEANS: usize = 3;
const ASIDE: f32 = 0.1;

/// A flat velocity laid on a slope: the same way over the map, the same speed along the ground.
pub(in crate::mode) fn lift(flat: DVec3, slope: Vec3, up: Vec3) -> DVec3 {
    let (slope, up) = (slope.as_dvec3(), up.as_dvec3());
    let raised = flat - up * (flat.dot(slope) / slope.dot(up));
    let length = raised.length();
    if length > 0.0 { raised * (flat.length() / length) } else { flat }
}

/// The flat velocity that [`lift`] made this from.
pub(in crate::mode) fn flat_velocity(velocity: DVec3, up: DVec3) -> DVec3 {
    let flat = flatten64(velocity, up);
    let length = flat.length();
    if length > 0.0 { flat * (velocity.length() / length) } else { DVec3::ZERO }
}

/// The path of a ramp of flat velocity over a slope.
pub(super) fn follow(ramp: &Ramp, slope: Vec3, up: Vec3, span: f64) -> Path {
    let first = lift(ramp.start(), slope, up);
    if ramp.is_curved() && span > 0.0 {
        // Ends where the curved way ends, to the bit of rounding, whatever the pieces.
        return Path { velocity: first, rate: (lift(ramp.mean(span), slope, up) - first) * (2.0 / span), span };
    }
    let last = lift(ramp.at(span), slope, up);
    Path { velocity: first, rate: (last - first) / span, span }
}

/// How long one piece of the walk may be: to the end of the ramp, and at most half a radius of way; while the foot
/// rolls over an edge between two slopes, and its direction with it, a quarter.
pub(super) fn piece(run: &Run<'_>, ramp: &Ramp, span: f64) -> f64 {
    let span = if ramp.duration() > 0.0 { span.min(ramp.duration()).min(ramp.smooth_span()) } else { span };
    let fastest = ramp.start().length().max(ramp.at(span).length()) + run.belt().length();
    let shape = &run.near.shape;
    let most = if is_rolling(run) { 0.25 * shape.rounding() } else { 0.5 * shape.radius };
    let most = f64::from(most);
    let span = if fastest * span > most { most / fastest } else { span };
    along_walls::while_pushed_round(run, ramp.start(), span)
}

/// True where the foot rolls over an edge or a round: what it follows is the touch itself, not a face.
pub(super) fn is_rolling(run: &Run<'_>) -> bool {
    let ground = &run.ground;
    let about = match run.near.shape.form {
        Form::Capsule => (run.near.place - ground.point).as_vec3() + run.me.up * run.near.shape.radius,
        // The corner that it rolls on.
        Form::Box => {
            let corner = run.near.cores().lowest_along(ground.normal);
            corner - (ground.point - run.near.patch.origin()).as_vec3()
        }
    };
    ground.support == Support::Edge && ground.normal.dot(about) > 0.9999 * about.length()
}

/// The surface that motion with this flat velocity follows, of all that are stood on.
pub(super) fn main_slope(footholds: &Footholds, flat: DVec3, run: &Run<'_>) -> Vec3 {
    footholds.along(flat.as_vec3(), run.me.up).unwrap_or(run.ground.normal)
}

/// Takes the ground found as what is walked on now; the speed turns with it.
pub(super) fn stand_on(run: &mut Run<'_>, found: &Decision) {
    let up = run.me.up;
    let own = flat_velocity(run.me.velocity, run.up());
    let flat = own + run.take_ground(found.ground);
    if flat != DVec3::ZERO {
        run.ground.normal = main_slope(&found.footholds, flat, run);
        run.me.velocity = lift(flat, run.ground.normal, up);
    }
}

/// Ground that carries, here or at most a step below; moves down to it. `None`, unmoved, where there is none.
pub(super) fn settle_down(run: &mut Run<'_>) -> Option<Decision> {
    let touching = run.near.ground(&run.staying);
    if touching.is_firm() && touching.gap.abs() <= 2.0 * run.near.shape.tolerance() {
        return Some(touching);
    }
    run.attempt(push_down)
}

/// Moves down until something carries, at most a step, and along leaning walls. `None`, anywhere, where nothing does.
fn push_down(run: &mut Run<'_>) -> Option<Decision> {
    let mut down = run.me.up * -(run.staying.step + run.near.shape.skin());
    for _ in 0..MOST_LEANS {
        let (part, met) = run.near.push_onto(down);
        let contact = met?;
        let found = run.near.ground(&run.staying);
        if found.is_firm() {
            return Some(found);
        }
        // A wall that leans away stands under the feet as well: down along it, as long as that hardly leads aside.
        let along = down_along(down * (1.0 - part), contact.normal, run.me.up).filter(|_| run.may_lean())?;
        let aside = flatten(along, run.me.up).length() / (ASIDE * run.near.shape.radius);
        down = if aside > 1.0 { along / aside } else { along };
    }
    None
}

/// The way that comes down as far as `down` and follows a surface that leans under it.
fn down_along(down: Vec3, normal: Vec3, up: Vec3) -> Option<Vec3> {
    let way = down - normal * down.dot(normal);
    let drop = way.dot(up);
    (normal.dot(up) > 0.0 && drop < 0.0).then(|| way * (down.dot(up) / drop))
}

/// In mid-step: from here on level, with this flat velocity, until it is `ahead` metres further `into` what it met.
pub(super) fn begin_stride(run: &mut Run<'_>, into: Vec3, ahead: f32, flat: DVec3) {
    run.me.activity.set_step(StepOver { direction: CoarseDirection::from(into), remaining: ahead });
    (run.ground.normal, run.me.velocity) = (run.me.up, flat);
}
