//! The ground ends: where, why, and into the air.

use glam::DVec3;

use super::footwork::settle_down;
use crate::contact::arcs::Path;
use crate::contact::ground::Decision;
use crate::mode::trail::Trail;
use crate::mode::transitions::lose;
use crate::outcome::EventKind;
use crate::run::Run;

/// Goes back to the last moment of `trail`, whose own path was `path`, at which there was ground, and is in the air from then
/// on; returns the seconds used until then.
pub(super) fn at_last_support(run: &mut Run<'_>, trail: &Trail, path: &Path, used: f64) -> f64 {
    let mut place = trail.from;
    let (held, lost) = trail.last(run, used, |run, _| {
        let carries = settle_down(run).is_some();
        if carries {
            place = run.near.place;
        }
        carries
    });
    // The support at the lost moment is the reported reason: an overhang, a steep face, or nothing.
    trail.go_to(run, lost);
    run.near.push(run.me.up * -run.staying.step);
    let after = run.near.ground(&run.staying);
    trail.stand_at(run, place, held);
    lose_ground(run, path.velocity_at(held), after);
    held
}

/// The ground has ended: into the air with the velocity it had. No time passes.
pub(super) fn lose_ground(run: &mut Run<'_>, own: DVec3, after: Decision) -> f64 {
    let support = after.ground.support;
    run.me.velocity = own;
    lose(run);
    run.lost_at = Some((run.near.place, run.near.time()));
    run.ground = after.ground;
    run.report(EventKind::LeftGround { support });
    0.0
}
