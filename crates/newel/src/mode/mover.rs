//! How anything moves that nothing holds to the ground: in the air, in the water, hovering, and by a game's own mode.
//!
//! A [`Policy`] says how it would move were nothing in the way (its [`Law`]), and what becomes of what it meets. What is touched bounds
//! the law, a corner leads it round, and where something is hit or let go the piece of way ends: the same for all of them.

use glam::DVec3;

use super::along_walls;
use super::round::{Along, Corner};
use super::trail::Trail;
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::run::Run;

/// How something would move for a while, but for what is in its way.
pub(super) trait Law {
    /// How its velocity changes at first, m/s².
    fn rate(&self) -> DVec3;

    /// Seconds for which it holds, and for which its path is as good as a parabola.
    fn lasts(&self) -> f64;

    /// Its path in the open for `span` seconds with the velocity that it has: it ends where that leads.
    fn path(&self, velocity: DVec3, span: f64) -> Path {
        Path { velocity, rate: self.rate(), span }
    }

    /// The one rate at which its velocity gets to where it would be `span` seconds on, m/s²: what walls take from that they take evenly.
    fn mean_rate(&self, velocity: DVec3, span: f64) -> DVec3 {
        let _ = (velocity, span);
        self.rate()
    }

    /// What it is `used` seconds into a path in the open: its velocity, and how far it has come where the path is not exact.
    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        (path.velocity_at(used), None)
    }
}

/// What moves a character: how, and what becomes of it on the way.
pub(super) trait Policy {
    type Law: Law;

    /// What its walls leave of a velocity.
    fn planes(&self, run: &Run<'_>) -> Planes {
        run.walls.planes_against(run.carried)
    }

    /// How it would move from now on with this velocity, where `planes` bound what it wants.
    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, planes: &Planes) -> Self::Law;

    /// True where it is led round corners.
    fn rounds(&self, run: &Run<'_>, piece: &Piece<Self::Law>) -> bool {
        let _ = (run, piece);
        true
    }

    /// What happens here and now instead of a move, for at most `span` seconds: the seconds used.
    fn instead(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, span: f64) -> Option<f64> {
        let _ = (run, piece, span);
        None
    }

    /// The path as far as nothing else begins on it.
    fn cut(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, path: Path) -> Path {
        let _ = (run, piece);
        path
    }

    /// It has gone along the path for `used` seconds.
    fn gone(&mut self, run: &mut Run<'_>, piece: &Piece<Self::Law>, path: &Path, used: f64) {
        let _ = (run, piece, path, used);
    }

    /// Something is in the way.
    fn met(&mut self, run: &mut Run<'_>, contact: &Contact);

    /// Nothing was.
    fn met_nothing(&mut self, run: &mut Run<'_>) {
        let _ = run;
    }
}

/// A piece of way to be gone: the law of it, and what holds it off what it touches.
pub(super) struct Piece<L> {
    pub velocity: DVec3,
    pub law: L,
    /// Planes, or none; unless it is led round a corner.
    planes: Planes,
    /// What all that is, if it is one thing.
    along: Along,
    /// The corner that it is led round, and how its velocity would change were nothing there, m/s².
    corner: Option<(Corner, DVec3)>,
}

impl<L: Law> Piece<L> {
    /// The next piece with this velocity, held off by `planes`; or where all that it touches is one corner that it goes along, by that, or
    /// where it leaves that, by nothing.
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
        // What it wants is held off as half way through the piece.
        let span = span.min(corner.longest(rate.length()));
        let law = policy.law(run, velocity, &corner.halfway(span));
        Piece { law, along, corner: Some((corner, rate)), ..piece }
    }

    /// Seconds of `span` for which it goes on so.
    fn holds_for(&self, span: f64) -> f64 {
        let span = span.min(self.law.lasts());
        let Some((corner, open)) = &self.corner else { return span };
        corner.holds_for(self.velocity, *open, span.min(corner.longest(self.law.rate().length())))
    }

    /// True where a corner leads it round.
    pub fn is_led_round(&self) -> bool {
        self.corner.is_some()
    }

    /// True where nothing bounds it.
    fn is_free(&self) -> bool {
        self.planes.normals().is_empty()
    }

    /// Its path for `span` seconds.
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

    /// Its velocity `used` seconds into the path, and how far it came where that is known better.
    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        if self.is_free() { self.law.end(path, used) } else { (path.velocity_at(used), None) }
    }
}

/// Moves it for at most `span` seconds; returns the seconds used.
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
