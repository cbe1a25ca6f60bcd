//! Whether a reported step is one: no walkable way along the surface leads from the lower to the higher place.

use newel::Form;
use newel::glam::DVec3;

use super::feet::touches;
use super::moment::Moment;

/// Places looked at along the way from one touch to the other.
const SAMPLES: usize = 32;
/// Touches closer to each other than this over the map, in metres, have no way between them to be judged.
const LEAST_WAY: f64 = 2e-3;
/// A surface higher or lower by this between two samples than its slope gives has a riser there, in metres.
const RISER: f64 = 2e-3;
/// A slope steeper than the steepest walkable one by no more than this counts as walkable, in degrees: the core rounds.
const ROUNDING: f64 = 0.01;
/// How near a touch is that may have been the step's, in metres.
const TOUCHES: f64 = 5e-4;

/// True where a step of `height` metres was reported in a tick although the surface between the two touches is walkable.
pub(super) fn is_false(moment: &Moment<'_>, height: f32) -> bool {
    let (before, after) = (moment.before, moment.after);
    let judged = before.mode.is_on_ground() && after.mode.is_on_ground() && before.up == after.up;
    if !judged || moment.tuning.shape().form == Form::Box || after.ground.body() != before.ground.body() {
        return false;
    }
    let up = after.up.as_dvec3();
    let radius = f64::from(moment.tuning.shape_in(after.stance).radius);
    // A step may take several ticks; until it ends the character stands on what it steps from.
    let from = before.ground.ground(before.position).point;
    let touched = touches(moment.surface, after.position + up * radius, radius, TOUCHES).map(|t| t.point);
    let higher = |a: DVec3, b: DVec3| if (a.dot(up) >= b.dot(up)) == (height > 0.0) { a } else { b };
    let Some(to) = touched.reduce(higher) else { return false };
    is_walkable_between(moment, from, to, up)
}

/// True where the surface along the straight way over the map from one place to another is walkable everywhere, without a riser.
fn is_walkable_between(moment: &Moment<'_>, from: DVec3, to: DVec3, up: DVec3) -> bool {
    let way = to - from;
    let flat = way - up * way.dot(up);
    if flat.length() < LEAST_WAY {
        return false;
    }
    let steepest = (f64::from(moment.tuning.values().ground.steepest) + ROUNDING).to_radians();
    let reach = f64::from(moment.tuning.values().ground.step);
    let each = flat.length() / SAMPLES as f64;
    let mut last = Some(0.0);
    for sample in 0..=SAMPLES {
        let part = sample as f64 / SAMPLES as f64;
        let over = from + way * part + up * reach;
        let Some((far, normal)) = moment.surface.cast(over, up * (-2.0 * reach)) else { return false };
        let height = (over - up * (2.0 * reach * far) - from).dot(up);
        let riser = last.is_some_and(|last: f64| (height - last).abs() > each * steepest.tan() + RISER);
        if riser || normal.dot(up) < steepest.cos() {
            return false;
        }
        last = Some(height);
    }
    // A rim that the last sample just misses has the lower surface under it.
    last.is_some_and(|last| (last - way.dot(up)).abs() <= each * steepest.tan() + RISER)
}
