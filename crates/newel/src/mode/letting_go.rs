//! Where a wall that was slid along ends, so does the piece of way: what it kept back goes on from there, at every tick rate.

use glam::DVec3;

use super::footwork::HALVINGS;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::run::{MOST_TOUCHED, Run};

/// What is left of a move along `path` from `from` that took `used` seconds and met `hit`.
pub(super) fn cut(
    run: &mut Run<'_>,
    from: DVec3,
    path: &Path,
    used: f64,
    hit: Option<Contact>,
) -> (f64, Option<Contact>) {
    let until = at_first_end(run, from, path, used);
    (until, hit.filter(|_| until == used))
}

/// After a free move along `path` from `from`: goes back to where the first of the walls touched so far was let go, if
/// one was. Returns the seconds used.
fn at_first_end(run: &mut Run<'_>, from: DVec3, path: &Path, used: f64) -> f64 {
    if run.walls.go_on(&run.near) {
        return used;
    }
    let start = run.near.time() - used;
    let (mut held, mut gone) = (0.0, used);
    for _ in 0..HALVINGS {
        let middle = 0.5 * (held + gone);
        run.near.place = from + path.at(middle);
        run.near.set_time(start + middle);
        if run.walls.go_on(&run.near) {
            held = middle;
        } else {
            gone = middle;
        }
    }
    run.near.place = from + path.at(gone);
    run.near.set_time(start + gone);
    // What goes on from there may be another facet of the same wall.
    run.unmet = MOST_TOUCHED;
    gone
}
