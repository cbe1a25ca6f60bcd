//! A piece of way that was gone, to be looked back over: where on it was it still so?

use glam::DVec3;

use crate::contact::arcs::Path;
use crate::run::Run;

/// A moment of a piece of way is found to this, seconds: so that it hardly depends on where the piece began.
const EXACT: f64 = 1e-7;

/// The way gone since a moment of this tick.
#[derive(Clone, Copy, Debug)]
pub(super) struct Trail {
    /// Where it began.
    pub from: DVec3,
    way: Path,
    start: f64,
}

impl Trail {
    /// The way that begins here and now.
    pub fn begin(run: &Run<'_>, way: Path) -> Trail {
        Trail { from: run.near.place, way, start: run.near.time() }
    }

    /// Puts the character where it was `t` seconds into it.
    pub fn go_to(&self, run: &mut Run<'_>, t: f64) {
        self.stand_at(run, self.from + self.way.at(t), t);
    }

    /// Puts the character at `place` as it is `t` seconds into it.
    pub fn stand_at(&self, run: &mut Run<'_>, place: DVec3, t: f64) {
        run.near.place = place;
        run.near.set_time(self.start + t);
    }

    /// The last moment of its first `used` seconds at which `holds`, and the first at which it no longer does. Leaves the
    /// character anywhere on it.
    pub fn last(&self, run: &mut Run<'_>, used: f64, mut holds: impl FnMut(&mut Run<'_>, f64) -> bool) -> (f64, f64) {
        let (mut held, mut lost) = (0.0, used);
        while lost - held > EXACT {
            let middle = 0.5 * (held + lost);
            self.go_to(run, middle);
            if holds(run, middle) {
                held = middle;
            } else {
                lost = middle;
            }
        }
        (held, lost)
    }
}
