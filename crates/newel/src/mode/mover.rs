//! The motion loop of all modes that are not bound to the ground: air, water, hover, and a game's own mode.
//!
//! A [`Policy`] supplies the motion [`Law`] and reacts to contacts. The loop constrains the law by the walls, leads it round a corner,
//! sweeps the path, and ends the piece at the first contact or at the end of a wall.

use glam::DVec3;

use super::along_walls;
use super::round::{Along, Corner};
use super::trail::Trail;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::run::Run;

/// A motion law: how the character moves for a while if nothing is in its way.
pub(super) trait Law {
    /// The acceleration at the start, m/s².
    fn rate(&self) -> DVec3;

    /// Seconds for which the law holds and a parabola approximates its path.
    fn lasts(&self) -> f64;

    /// The unconstrained path of the next `span` seconds. It ends where the law leads.
    fn path(&self, velocity: DVec3, span: f64) -> Path {
        Path { velocity, rate: self.rate(), span }
    }

    /// The constant acceleration that reaches the velocity of the law after `span` seconds, m/s². Walls constrain this one.
    fn mean_rate(&self, velocity: DVec3, span: f64) -> DVec3 {
        let _ = (velocity, span);
        self.rate()
    }

    /// The velocity `used` seconds into an unconstrained path, and the displacement if the path itself is not exact.
    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        (path.velocity_at(used), None)
    }
}

/// The decisions of a mode about its motion.
pub(super) trait Policy {
    type Law: Law;

    /// The planes that constrain the velocity.
    fn planes(&self, run: &Run<'_>) -> Planes {
        run.walls.planes_against(run.carried)
    }

    /// The law from this velocity on. `planes` constrain its target.
    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, planes: &Planes) -> Self::Law;

    /// True if corners may lead this piece round.
    fn rounds(&self, run: &Run<'_>, piece: &Piece<Self::Law>) -> bool {
        let _ = (run, piece);
        true
    }

    /// Something that replaces the motion of this piece, for at most `span` seconds; returns the seconds used.
    fn instead(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, span: f64) -> Option<f64> {
        let _ = (run, piece, span);
        None
    }

    /// Shortens the path to the moment at which another law begins.
    fn cut(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, path: Path) -> Path {
        let _ = (run, piece);
        path
    }

    /// Called after `used` seconds along the path, before any contact is handled.
    fn gone(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, path: &Path, used: f64) {
        let _ = (run, piece, path, used);
    }

    /// Handles a contact that blocks the path.
    fn met(&mut self, run: &mut Run<'_>, contact: &Contact);

    /// Called if nothing blocked the path.
    fn met_nothing(&mut self, run: &mut Run<'_>) {
        let _ = run;
    }
}

/// One piece of motion: its law, and the constraints of the contacts.
pub(super) struct Piece<L> {
    pub velocity: DVec3,
    pub law: L,
    planes: Planes,
    /// The single surface that all contacts belong to, if they do.
    along: Along,
    /// The corner that leads the piece round, and the unconstrained acceleration there, m/s².
    corner: Option<(Corner, DVec3)>,
}

impl<L: Law> Piece<L> {
    /// Plans the next piece. If all contacts are one corner, the corner replaces the planes. If the motion leaves that corner,
    /// nothing constrains the piece.
    fn next<P: Policy<Law = L>>(
        run: &mut Run<'_>,
        policy: &mut P,
        (velocity, planes): (DVec3, Planes),
        span: f64,
    ) -> Piece<L> {
        let law = policy.law(run, velocity, &planes);
        let piece = Piece { velocity, law, planes, along: Along::Other, corner: None };
        if piece.planes.normals().is_empty() || !policy.rounds(run, &piece) {
            return piece;
        }
        let along = Along::of(run, velocity);
        let Some(corner) = along.corner() else { return Piece { along, ..piece } };
        let walls = core::mem::take(&mut run.walls);
        let open = policy.law(run, velocity, &Planes::default());
        run.walls = walls;
        let rate = open.rate();
        if corner.lets_go(velocity, rate) {
            return Piece { law: open, planes: Planes::default(), ..piece };
        }
        // The corner constrains the target by its normal half way through the piece.
        let span = span.min(corner.longest(rate.length()));
        let law = policy.law(run, velocity, &corner.halfway(span));
        Piece { law, along, corner: Some((corner, rate)), ..piece }
    }

    /// Seconds of `span` for which the law and the corner hold.
    fn holds_for(&self, span: f64) -> f64 {
        let span = span.min(self.law.lasts());
        let Some((corner, open)) = &self.corner else { return span };
        corner.holds_for(self.velocity, *open, span.min(corner.longest(self.law.rate().length())))
    }

    /// True if a corner leads the piece round.
    pub fn is_led_round(&self) -> bool {
        self.corner.is_some()
    }

    /// True if nothing constrains the piece.
    fn is_free(&self) -> bool {
        self.planes.normals().is_empty()
    }

    /// The constrained path of the next `span` seconds.
    pub fn path(&self, span: f64) -> Path {
        if self.is_free() {
            return self.law.path(self.velocity, span);
        }
        let rate = self.law.mean_rate(self.velocity, span);
        match &self.corner {
            Some((corner, _)) => corner.bent(self.velocity, rate, span),
            None => {
                let rate = self.planes.not_left_by(self.velocity).admissible(rate);
                Path { velocity: self.velocity, rate, span }
            }
        }
    }

    /// The velocity `used` seconds into the path, and the exact displacement if the law knows it.
    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        if self.is_free() { self.law.end(path, used) } else { (path.velocity_at(used), None) }
    }
}

/// Moves the character for at most `span` seconds; returns the seconds used.
pub(super) fn advance<P: Policy>(run: &mut Run<'_>, policy: &mut P, span: f64) -> f64 {
    run.walls.refresh(&run.near);
    let planes = policy.planes(run);
    if planes.close_in() {
        return run.closed_in(span);
    }
    let velocity = planes.admissible(run.me.velocity);
    run.tell_pressed(&planes, run.me.velocity, velocity);
    let piece = Piece::next(run, policy, (velocity, planes), span);
    if let Some(used) = policy.instead(run, &piece, span) {
        return used;
    }
    run.leave_foothold();
    let span = along_walls::while_pushed_round(run, velocity, piece.holds_for(span));
    let path = policy.cut(run, &piece, piece.path(span));
    if let Some(contact) = along_walls::touched_already(run, &path) {
        policy.met(run, &contact);
        return 0.0;
    }
    let way = run.carried_along(path);
    let way = Path { span: run.smooth(&way, path.span), ..way };
    let trail = Trail::begin(run, way);
    let (used, hit) = along_walls::go(run, &way);
    let (used, hit) = piece.along.ends(run, &trail, used).map_or((used, hit), |ended| (ended, None));
    let (velocity, came) = piece.end(&path, used);
    run.me.velocity = velocity;
    if hit.is_none() {
        if let Some(came) = came {
            run.near.place = run.me.keeps.held(trail.from + came, trail.from);
        }
        if let Some((corner, _)) = &piece.corner {
            corner.hug(run);
        }
    }
    policy.gone(run, &piece, &path, used);
    match hit {
        Some(contact) => policy.met(run, &contact),
        None => policy.met_nothing(run),
    }
    used
}
