//! The free motion of a game's own mode: driven by an acceleration, along walls, or swinging on a tether.

use glam::DVec3;

use super::context::Met;
use super::in_pieces;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::mode::mover::{self, Law, Policy};
use crate::motion::swing::Swing;
use crate::run::Run;

/// A constraint that keeps the middle of the character within a distance of a place.
#[derive(Clone, Copy)]
pub(super) struct Tether {
    pub hook: DVec3,
    pub length: f64,
}

impl Tether {
    /// The vector from the hook, if the rope is taut within `span` seconds at this velocity and acceleration.
    fn taut(&self, run: &Run<'_>, velocity: DVec3, rate: DVec3, span: f64) -> Option<DVec3> {
        let out = run.near.middle() - self.hook;
        let ahead = out + velocity * span + rate * (0.5 * span * span);
        (out.length() > 1e-3 && ahead.length() > self.length).then_some(out)
    }

    /// Draws the character in to the length of the rope, as far as there is room, and removes outward velocity.
    fn draw_in(&self, run: &mut Run<'_>) {
        let out = run.near.middle() - self.hook;
        let reach = out.length();
        if reach > self.length {
            let out = out / reach;
            run.near.push((out * (self.length - reach)).as_vec3());
            let leading = run.me.velocity.dot(out);
            if leading > 0.0 {
                run.me.velocity -= out * leading;
            }
        }
    }
}

/// The policy of a game's own mode.
pub(super) struct Driven {
    pub rate: DVec3,
    pub tether: Option<Tether>,
    pub span: f64,
    pub met: Option<Met>,
}

/// The law of a game's own mode: straight on, or round a hook.
pub(super) struct Drive {
    velocity: DVec3,
    rate: DVec3,
    /// The vector from the hook to the middle of the character, if the rope is taut.
    out: Option<DVec3>,
}

impl Driven {
    /// Moves the character until `end`; returns the seconds of the last piece.
    pub fn go(&mut self, run: &mut Run<'_>, end: f64) -> f64 {
        let piece = |run: &mut Run<'_>, span: f64| {
            self.span = span;
            let used = mover::advance(run, self, span);
            if let Some(tether) = &self.tether {
                tether.draw_in(run);
            }
            used
        };
        in_pieces(run, end, piece, |_| true)
    }
}

impl Policy for Driven {
    type Law = Drive;

    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, _: &Planes) -> Drive {
        let out = self.tether.and_then(|tether| tether.taut(run, velocity, self.rate, self.span));
        Drive { velocity, rate: self.rate, out }
    }

    fn met(&mut self, run: &mut Run<'_>, contact: &Contact) {
        self.met.get_or_insert_with(|| {
            // A later gather numbers the bodies anew.
            let body = run.near.patch.body(contact.body).id;
            Met { normal: contact.normal, surface: contact.surface, body, velocity: contact.velocity }
        });
        run.slide_along(contact);
    }
}

impl Drive {
    fn swing(&self, span: f64) -> Option<Swing> {
        self.out.map(|out| Swing::new(out, self.velocity, self.rate, span))
    }
}

impl Law for Drive {
    /// Round a hook: the part of the acceleration that the rope allows, and the centripetal acceleration.
    fn rate(&self) -> DVec3 {
        self.out.map_or(self.rate, |out| {
            let along = out / out.length();
            self.rate - along * self.rate.dot(along) + Swing::new(out, self.velocity, DVec3::ZERO, 0.0).inward()
        })
    }

    fn lasts(&self) -> f64 {
        f64::INFINITY
    }

    /// Round a hook: half the acceleration, the arc at constant speed, and the other half.
    fn path(&self, velocity: DVec3, span: f64) -> Path {
        match self.swing(span) {
            Some(swing) => Path { velocity: swing.velocity, rate: swing.inward(), span },
            None => Path { velocity, rate: self.rate, span },
        }
    }

    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        match self.swing(path.span).filter(|_| used == path.span).zip(self.out) {
            Some((swing, out)) => {
                let (to, velocity) = swing.end();
                (velocity, Some(to - out))
            }
            None => (path.velocity_at(used), None),
        }
    }
}
