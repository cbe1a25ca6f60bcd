//! Along walls: what is touched already is met before the first move, and where a wall that was slid along ends, so does the
//! piece of way. What a wall keeps back is so kept back, and let go, at the same moments at every tick rate.

use glam::DVec3;

use super::trail::Trail;
use crate::contact::arcs::Path;
use crate::contact::closest::Feature;
use crate::contact::point::Contact;
use crate::phase::Mode;
use crate::run::{MOST_TOUCHED, Run};
use crate::support::Support;

/// How far an edge or a round that pushes it may go by before it is looked at again, in parts of the radius: a piece of way keeps the
/// speed that it is pushed with at first, and whoever a gate came down beside went 4 cm too far at 30 Hz.
const GOES_BY: f32 = 0.02;

/// As much of a span as can be gone with this velocity, against what carries it, while what pushes it turns little: an edge or a round
/// that moves by.
pub(super) fn while_pushed_round(run: &Run<'_>, own: DVec3, span: f64) -> f64 {
    let turning = run.walls.iter().filter(|c| c.feature != Feature::Face && run.moves_past(c));
    let past = turning.map(|c| (c.velocity - run.carried - own).length()).fold(0.0, f64::max);
    let most = f64::from(GOES_BY * run.near.shape.radius);
    if past * span > most { span.min((most / past).max(run.dt() / 64.0)) } else { span }
}

/// The next existing contact in the way, as a hit at time 0. `None` once all of them are resolved.
///
/// Without it a piece of way would begin with the hair that is left to a wall, as often as the ticks have it.
pub(super) fn touched_already(run: &mut Run<'_>, path: &Path) -> Option<Contact> {
    // Walkable ground is no wall, except to a floating character.
    let floats = floats(run);
    let slips = run.ground.support == Support::Slipping;
    run.unmet = run.unmet.checked_sub(1)?;
    run.near.touch(run.near.shape.touching());
    let (limits, up, near) = (run.staying, run.me.up, &run.near);
    let (way, carried) = (path.at(path.span), run.carried * path.span);
    // A sweep ends closer than this; a larger gap is closed by the next sweep.
    let close = 2.0 * near.shape.tolerance();
    // An edge that it slips off is one too, however level it is touched.
    let steep = |c: &Contact| floats || slips && c.feature != Feature::Face || !limits.walkable(c.normal, up);
    // Against the wall, which may move as what carries it does, or otherwise.
    let into = |c: &Contact| (way + carried - c.velocity * path.span).dot(c.normal.as_dvec3());
    let entered = |c: &Contact| into(c) < -1e-6 * way.length() && !run.walls.knows(c);
    // The rim of a wall that is touched is no other wall, however near it is; nor is the seam of one that is known, over which that went on.
    let is_seam = |c: &Contact| near.beyond_seam(c, |face| steep(face)).is_some_and(|face| run.walls.knows(&face));
    let is_rim = |c: &Contact| near.face_with_rim(c, steep).is_some();
    let is_new = |c: &&Contact| c.gap <= close && steep(c) && entered(c) && !is_rim(c) && !is_seam(c);
    let new = near.contacts.iter().filter(is_new);
    let met = new.copied().reduce(|a, b| if into(&b) < into(&a) { b } else { a });
    if met.is_none() {
        run.unmet = 0;
    }
    met
}

/// True where floors are walls like any other.
fn floats(run: &Run<'_>) -> bool {
    matches!(run.me.mode, Mode::Swim | Mode::Hover | Mode::Custom)
}

/// Where what is gone along has come to a seam within a wall, it goes on along the facet beyond: kept as an edge, the facet behind would
/// be one more wall, that turns away.
pub(super) fn over_seams(run: &mut Run<'_>) {
    let is_edge = |c: &&Contact| matches!(c.feature, Feature::Edge(_));
    if !run.walls.iter().any(|c| is_edge(&c)) {
        return;
    }
    run.near.touch(run.near.shape.touching());
    let (limits, up, floats) = (run.staying, run.me.up, floats(run));
    let (near, known) = (&run.near, run.walls);
    for edge in known.iter().filter(is_edge).filter_map(|c| near.refreshed(c)) {
        if let Some(face) = near.beyond_seam(&edge, |face| floats || !limits.walkable(face.normal, up)) {
            run.walls.go_over(&edge, face);
        }
    }
}

/// Goes along `way` until something is hit or a wall touched so far ends; the seconds used, and what was hit.
pub(super) fn go(run: &mut Run<'_>, way: &Path) -> (f64, Option<Contact>) {
    let trail = Trail::begin(run, *way);
    let (used, hit) = run.near.sweep(way);
    if run.walls.go_on(&run.near) {
        return (used, hit);
    }
    let end = run.near.place;
    let (_, ended) = trail.last(run, used, |run, _| run.walls.go_on(&run.near));
    if ended == used && hit.is_some() {
        // The new contact moved the character off the walls by the tolerance. The walls go on.
        trail.stand_at(run, end, used);
        return (used, hit);
    }
    trail.go_to(run, ended);
    // Another facet of the same wall may continue from there.
    run.unmet = MOST_TOUCHED;
    (ended, None)
}
