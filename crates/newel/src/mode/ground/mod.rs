//! Walking: flat velocity ramps toward the heading and follows the surface; the feet settle on what is there.

mod arriving;
mod corner;
mod crest;
mod footwork;
mod guard;
mod losing;
mod meeting;
mod pull;
mod rolling;
mod standing;
mod step_up;
mod stride;
mod walking;

pub(super) use footwork::{flat_velocity, lift};

use glam::{DVec3, Vec3};

use self::corner::Corner;
use self::footwork::{follow, piece, settle_down, stand_on};
use self::meeting::meet;
use super::trail::Trail;
use super::{along_walls, ledge, swim};
use crate::contact::arcs::Path;
use crate::contact::ground::Decision;
use crate::contact::underfoot::SupportEnd;
use crate::motion::Ramp;
use crate::run::Run;
use crate::support::Support;

/// When a step was taken is told to so many seconds.
const STEP_TIME: f64 = 5e-4;
/// And it is carried by what it stepped to from then on, so exactly.
const BOARDING_TIME: f64 = 1e-5;

/// Walks for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let wish = run.wish();
    run.refresh_ride();
    if wish == DVec3::ZERO && run.me.velocity == DVec3::ZERO && run.belt() == DVec3::ZERO {
        return standing::advance(run, span);
    }
    run.leave_foothold();
    if guard::applies(run) { guard::guarded(run, |run| walk(run, span)) } else { walk(run, span) }
}

/// The next piece of a walk or a slide.
fn walk(run: &mut Run<'_>, span: f64) -> f64 {
    if run.me.activity.step().remaining > 0.0 {
        return stride::advance(run, span);
    }
    run.walls.refresh(&run.near);
    if let Some(used) = guard::along_the_lip(run, span) {
        return used;
    }
    if ledge::meets_again(run) {
        return 0.0;
    }
    let walk = Walk::next(run, span);
    if let Some(contact) = along_walls::touched_already(run, &walk.path) {
        return meet(run, &contact, walk.path.span);
    }
    lift_a_hair_if_it_flickers(run);
    let way = run.carried_along(walk.path);
    let trail = Trail::begin(run, way);
    let (used, hit) = along_walls::go(run, &way);
    let before = crest::may_fly_off(run).then(|| run.before());
    run.me.velocity = lift(walk.flat_after(used), walk.slope, run.me.up);
    crest::fly_on(run, used);
    if let Some(contact) = hit {
        return used + meet(run, &contact, walk.path.span - used);
    }
    let (from, used) = arrive(run, &walk, &trail, used);
    if !run.me.is_on_ground() {
        return used;
    }
    if let Some(before) = before.filter(|_| crest::turned(run, walk.path.velocity_at(used)).is_some()) {
        return crest::fly_off(run, &trail, &walk.path, used, &before);
    }
    let drop = (run.near.place - from).dot(run.up()) as f32;
    if drop.abs() > 0.1 * run.staying.step {
        run.stepped(drop);
    }
    match walk.corner.and_then(|corner| corner.led_to(run)) {
        Some(face) => used + meet(run, &face, walk.path.span - used),
        None => used,
    }
}

/// Takes the support at the end of a piece; returns the seconds used. A step is reported where it was taken. A step onto another body ends
/// the piece there, because that body carries the character from there on.
fn stand_at_the_end(run: &mut Run<'_>, walk: &Walk, trail: &Trail, (mut found, mut used): (Decision, f64)) -> f64 {
    let slips = slips_onto(run, &found);
    if slips || run.steps_to(&found.ground).is_some() {
        let end = run.near.place;
        let boards = found.ground.body != run.ground.body;
        let met = came_at(run, trail, used, (slips, if boards { BOARDING_TIME } else { STEP_TIME }));
        trail.go_to(run, met);
        let there = settle_down(run);
        run.step_met = Some((run.near.place, run.near.time()));
        match there.filter(|_| boards) {
            Some(aboard) => {
                (found, used) = (aboard, met);
                run.me.velocity = lift(walk.flat_after(met), walk.slope, run.me.up);
            }
            None => trail.stand_at(run, end, used),
        }
    }
    stand_on(run, &found);
    run.step_met = None;
    used
}

/// True where an edge led from what carried it onto something that carries it otherwise: over the face of neither is it told where that
/// ends, as where the two leave a crack.
fn slips_onto(run: &Run<'_>, found: &Decision) -> bool {
    let other = run.ground.support == Support::Edge && found.ground.body != run.ground.body;
    other && (run.is_carried() || run.near.body_named(found.ground.body).is_some_and(|body| body.carries()))
}

/// The moment of a piece of way, to within `exact` seconds, from which it stands a step lower or higher, or on something else where it
/// slips onto that.
fn came_at(run: &mut Run<'_>, trail: &Trail, used: f64, (slips, exact): (bool, f64)) -> f64 {
    let (before, mut held, mut met) = (run.before(), 0.0, used);
    let came = |run: &Run<'_>, found: &Decision| {
        run.steps_to(&found.ground).is_some() || slips && found.ground.body != run.ground.body
    };
    while met - held > exact {
        let middle = 0.5 * (held + met);
        trail.go_to(run, middle);
        let steps = settle_down(run).is_none_or(|found| came(run, &found));
        (held, met) = if steps { (held, middle) } else { (middle, met) };
    }
    run.back_to(&before);
    met
}

/// The next piece of the walk.
struct Walk {
    slope: Vec3,
    ramp: Ramp,
    corner: Option<Corner>,
    path: Path,
    /// The facet that the foot is over at its end, as of which gather, where that is known.
    over: Option<(usize, u32)>,
}

impl Walk {
    fn next(run: &mut Run<'_>, span: f64) -> Walk {
        let (slope, up) = (run.ground.normal, run.me.up);
        let (ramp, corner) = walking::walking_round(run, span);
        let span = piece(run, &ramp, span).min(arriving::until_braking(run, &ramp));
        let path = follow(&ramp, slope, up, span);
        let path = Path { span: run.smooth(&path, span), ..path };
        let (path, over) = until_the_bend(run, &ramp, path);
        let over = over.filter(|_| corner.is_none()).map(|facet| (facet, run.near.gathers));
        let path = corner.map_or(path, |c| c.bent(path, slope, up));
        let deep = swim::on_ground_ahead(run, &path);
        let (path, over) = if deep < path.span { (Path { span: deep, ..path }, None) } else { (path, over) };
        Walk { slope, ramp, corner, path, over }
    }

    /// The flat velocity after `used` seconds of it.
    fn flat_after(&self, used: f64) -> DVec3 {
        let flat = self.ramp.at(used);
        self.corner.map_or(flat, |c| c.turned(flat, &self.path, used))
    }
}

/// Cuts the path where the surface underfoot bends away, so that the walk turns with it there at every tick rate.
/// Where it does not, also says which facet the foot will be over at the end.
fn until_the_bend(run: &Run<'_>, ramp: &Ramp, path: Path) -> (Path, Option<usize>) {
    let belt = run.belt() * path.span;
    let way = (path.at(path.span) + belt).as_vec3();
    if way == Vec3::ZERO {
        return (path, None);
    }
    let ground = &run.ground;
    let SupportEnd { part, over, border } = match ground.support {
        Support::Firm => run.near.support_end(ground.normal, (ground.body, ground.surface), way),
        Support::Edge => {
            SupportEnd { part: run.near.flat_until(ground.point, ground.normal, way), over: None, border: false }
        }
        _ => return (path, None),
    };
    // On the very end of a belt it is as good as off it.
    let off_belt = ground.support == Support::Firm && over.is_none() && belt != DVec3::ZERO;
    let part = if off_belt { 0.0 } else { part };
    if part >= 1.0 {
        return (path, over);
    }
    // Just past the bend, so that the next piece begins beyond it; past a border on the flat by as much as tells its sides apart.
    let shape = &run.near.shape;
    let beyond = f64::from(if border { 4.0 * shape.touching() } else { 4.0 * shape.tolerance() });
    let past = beyond / (path.reach() + belt.length());
    let span = (path.span * (f64::from(part) + past)).min(path.span);
    (follow(ramp, run.ground.normal, run.me.up, span), None)
}

/// Over an edge that tilts and turns underfoot neither side is left for the other: over both, and down again.
fn lift_a_hair_if_it_flickers(run: &mut Run<'_>) {
    if run.flickers() {
        let hair = 0.25 * run.near.shape.skin();
        run.near.push(run.me.up * hair);
    }
}

/// After a free piece of way: where is the ground now? Returns the place before the feet came down, and the seconds used.
fn arrive(run: &mut Run<'_>, walk: &Walk, trail: &Trail, used: f64) -> (DVec3, f64) {
    if let Some(corner) = walk.corner {
        corner.hug(run);
    }
    let before = run.near.place;
    let over = walk.over.filter(|(_, gathers)| *gathers == run.near.gathers);
    let found = over.and_then(|(facet, _)| run.near.still_on(facet, &run.staying)).or_else(|| settle_down(run));
    match found {
        Some(found) => {
            let found = rolling::as_far_as_meant(run, walk, (trail, used), found);
            (before, stand_at_the_end(run, walk, trail, (found, used)))
        }
        None if run.guarded => (before, guard::hold_back(run, walk, trail, used)),
        None => (before, losing::at_last_support(run, trail, &walk.path, used)),
    }
}
