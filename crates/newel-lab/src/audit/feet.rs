//! The feet of a character on the ground: whether they touch it, and whether they move with it.

use newel::glam::DVec3;
use newel::{CoarseDirection, Event, EventKind, Form, Patch, State, Tuning};

use super::distance::{closest_on_segment, closest_on_triangle};
use super::finding::{Finding, FindingKind};
use super::moment::Moment;
use super::surface::{Surface, facing};

/// A slope this close to the steepest walkable one is not judged, in degrees: rounding decides there.
const NEAR_LIMIT: f64 = 1.0;
/// A rise or drop below this part of the step height is never a pop: steps that low are not reported.
const UNREPORTED: f64 = 0.1;
/// A reported step explains rises and drops within this many radii of its place. A step over something blunt is reported where it ends, up
/// to three radii from where it begins.
const STEP_REACH: f64 = 4.0;
/// Where the ground is lost, the ground is looked for this much further on, in seconds of the way: at a rim it ends there.
const AHEAD: f64 = 0.02;
/// Two poses closer than this, in metres, touch alike.
const TOUCHES: f64 = 5e-4;

/// History of the feet.
#[derive(Debug, Default)]
pub(super) struct Feet {
    rises: Vec<Rise>,
    steps: Vec<(DVec3, f64)>,
}

/// A rise or drop that the surface alone does not give.
#[derive(Debug, Clone, Copy)]
struct Rise {
    time: f64,
    place: DVec3,
    rise: f64,
    /// How much of it a step must explain.
    excess: f64,
    /// A step within this distance may explain it.
    reach: f64,
}

/// One place where a foot touches.
#[derive(Debug, Clone, Copy)]
pub(super) struct Touch {
    pub gap: f64,
    pub point: DVec3,
    /// The triangle's normal on the side of the foot.
    pub normal: DVec3,
    /// True where the touch is inside the triangle rather than on its rim.
    pub inside: bool,
}

impl Feet {
    /// The gap under the feet of a character on the ground, in metres; `None` elsewhere, and where it stands on something round.
    pub fn gap(&self, moment: &Moment<'_>) -> Option<f64> {
        let state = moment.after;
        let is_crushed = state.pressed != CoarseDirection::default();
        if !state.mode.is_on_ground() || is_top_view(state) || is_crushed || turns_over(state) {
            return None;
        }
        let step = f64::from(moment.tuning.values().ground.step);
        let (from, to, radius) = foot(state, moment.tuning);
        let gap = if from == to {
            touches(moment.surface, from, radius, step).map(|t| t.gap).fold(step, f64::min)
        } else {
            let low = from.min(to) - DVec3::splat(radius + step);
            let high = from.max(to) + DVec3::splat(radius + step);
            let near = moment.surface.within(low, high);
            near.map(|t| super::distance::segment_to_triangle(from, to, t) - radius).fold(step, f64::min)
        };
        let skin = f64::from(moment.tuning.shape().skin());
        (gap <= skin || !stands_on_round(moment, from, radius + skin)).then_some(gap)
    }

    /// Keeps what the surface does not explain, and the steps that may.
    pub fn look(&mut self, moment: &Moment<'_>) {
        let steps = moment.events.iter().filter_map(|e| match e.kind {
            EventKind::Stepped { height } => Some((e.place, f64::from(height).abs())),
            _ => None,
        });
        self.steps.extend(steps);
        if !is_one_walk(moment) {
            return;
        }
        let (before, after, values) = (moment.before, moment.after, moment.tuning.values());
        let up = (before.up + after.up).as_dvec3();
        let up = up / up.length();
        let way = after.position - before.position;
        let rise = way.dot(up);
        let speed = before.velocity.length().max(after.velocity.length());
        let flat = (way - up * rise).length().max(speed * moment.dt);
        let steepest = f64::from(values.ground.steepest).to_radians().max(f64::from(values.ground.overhang).asin());
        let skin = f64::from(moment.tuning.shape().skin());
        let given =
            flat * (steepest + NEAR_LIMIT.to_radians()).tan() + UNREPORTED * f64::from(values.ground.step) + skin;
        let excess = rise.abs() - given;
        let reach = flat + STEP_REACH * f64::from(moment.tuning.shape().radius);
        if excess > 0.0 {
            self.rises.push(Rise { time: after.clock, place: after.position, rise, excess, reach });
        }
    }

    /// The rises and drops that no reported step explains.
    pub fn pops(mut self) -> Vec<Finding> {
        let mut pops = Vec::new();
        for rise in &self.rises {
            let explains =
                |(place, left): &&mut (DVec3, f64)| *left > 0.0 && (*place - rise.place).length() <= rise.reach;
            let mut missing = rise.excess;
            for (_, left) in self.steps.iter_mut().filter(explains) {
                let part = left.min(missing);
                (*left, missing) = (*left - part, missing - part);
            }
            if missing > 0.0 {
                pops.push(Finding { time: rise.time, place: rise.place, kind: FindingKind::Pop { rise: rise.rise } });
            }
        }
        pops
    }

    /// How far below the place at which the ground was lost a foot rests on walkable ground, if that is less than a step.
    pub fn walkable_below(moment: &Moment<'_>, lost: &Event) -> Option<f64> {
        let (state, values) = (moment.after, moment.tuning.values());
        let may_let_go =
            values.ground.fly_off.is_some() || state.keeps.is_plane() || moment.events.iter().any(moves_it);
        if may_let_go || moment.before.up != state.up || moment.tuning.shape().form == Form::Box {
            return None;
        }
        let up = state.up.as_dvec3();
        let radius = f64::from(moment.tuning.shape_in(state.stance).radius);
        let step = f64::from(values.ground.step);
        let ahead = lost.velocity - up * lost.velocity.dot(up);
        let middle = lost.place + ahead * AHEAD + up * (radius + ahead.length() * AHEAD);
        let below = drop(moment.surface, middle, radius, up, step)?;
        let least = (f64::from(values.ground.steepest) - NEAR_LIMIT).to_radians().cos();
        let mut rests = touches(moment.surface, middle - up * below, radius, TOUCHES);
        rests.all(|t| t.inside && t.normal.dot(up) >= least).then_some(below)
    }
}

/// Where a foot touches, or comes nearer than `reach`.
pub(super) fn touches(surface: &Surface, middle: DVec3, radius: f64, reach: f64) -> impl Iterator<Item = Touch> + '_ {
    let touch = move |t: &[DVec3; 3]| {
        let (point, inside) = closest_on_triangle(middle, t);
        Touch { gap: (middle - point).length() - radius, point, normal: facing(t, middle - point), inside }
    };
    surface.around(middle, radius + reach).map(touch).filter(move |t| t.gap <= reach)
}

/// How far a foot drops before it touches, up to `most` metres.
fn drop(surface: &Surface, middle: DVec3, radius: f64, up: DVec3, most: f64) -> Option<f64> {
    let mut below = 0.0;
    while below <= most {
        let gap = touches(surface, middle - up * below, radius, most).map(|t| t.gap).fold(most, f64::min);
        if gap < 0.5 * TOUCHES {
            return Some(below);
        }
        below += gap;
    }
    None
}

/// The segment and the radius of the lowest part of a shape: the foot of a capsule, the bottom of a box.
fn foot(state: &State, tuning: &Tuning) -> (DVec3, DVec3, f64) {
    let shape = tuning.shape_in(state.stance);
    let (up, wide) = (state.up.as_dvec3(), f64::from(shape.radius));
    if shape.form == Form::Capsule {
        let middle = state.position + up * wide;
        return (middle, middle, wide);
    }
    let radius = 2.0 * f64::from(shape.skin());
    let aside = state.keeps.normal.as_dvec3().cross(up) * (wide - radius);
    let middle = state.position + up * radius;
    (middle - aside, middle + aside, radius)
}

fn is_top_view(state: &State) -> bool {
    state.keeps.normal.dot(state.up).abs() > 0.5
}

/// True where something round is as near to the foot as `reach`: a ball, a pole or another character, which has no triangles.
fn stands_on_round(moment: &Moment<'_>, middle: DVec3, reach: f64) -> bool {
    let (low, high) = (middle - DVec3::splat(reach), middle + DVec3::splat(reach));
    let patch = Patch::of(moment.terrain, moment.when, low, high);
    let near = |a: DVec3, b: DVec3, radius: f32| {
        (closest_on_segment(middle, a, b) - middle).length() - f64::from(radius) <= reach
    };
    let origin = patch.origin();
    patch.rounds().iter().any(|r| near(origin + r.a.as_dvec3(), origin + r.b.as_dvec3(), r.radius))
}

/// True where a tick is nothing but walking on what stands still.
fn is_one_walk(moment: &Moment<'_>) -> bool {
    let (before, after) = (moment.before, moment.after);
    let rides = |s: &State| s.carried != newel::glam::Vec3::ZERO || s.ground.body() != 0;
    let leaves = |e: &Event| {
        matches!(e.kind, EventKind::LeftGround { .. } | EventKind::Landed { .. } | EventKind::Jumped { .. })
    };
    let walks = |s: &State| s.mode.is_on_ground() && !rides(s) && !turns_over(s);
    walks(before) && walks(after) && !is_top_view(after) && !moment.events.iter().any(|e| leaves(e) || moves_it(e))
}

/// True while the body turns over: until it is upright it stands on whatever of it is lowest.
fn turns_over(state: &State) -> bool {
    state.marks.turning_over()
}

/// True for an event that puts or throws the character somewhere.
fn moves_it(event: &Event) -> bool {
    matches!(
        event.kind,
        EventKind::Teleported
            | EventKind::PushedOut { .. }
            | EventKind::Crushed { .. }
            | EventKind::Launched
            | EventKind::Stuck
            | EventKind::Nudged { .. }
            | EventKind::GravityTurned { .. }
    )
}
