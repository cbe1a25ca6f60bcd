//! Falling, jumping, and sliding down what is too steep: ballistics, steered across.

pub(super) mod wall;

mod fall;
mod motion;
mod nudge;

use glam::DVec3;

use self::fall::pull;
use self::motion::Motion;
use super::mover::{self, Piece, Policy};
use super::transitions;
use super::{climb, impact, swim};
use crate::contact::arcs::Path;
use crate::contact::ground::Decision;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::math::flatten64;
use crate::outcome::EventKind;
use crate::phase::Phase;
use crate::run::{MOST_TOUCHED, Run};
use crate::support::Ground;
use crate::walls::Walls;

/// Moves through the air for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    mover::advance(run, &mut Falls { over_water: false, top: f64::INFINITY }, span)
}

struct Falls {
    /// True where it is over water when the piece begins.
    over_water: bool,
    /// Seconds until the top of its rise.
    top: f64,
}

impl Policy for Falls {
    type Law = Motion;

    fn planes(&self, run: &Run<'_>) -> Planes {
        run.walls.in_air(run.me.up)
    }

    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, _: &Planes) -> Motion {
        Motion::of(run, velocity)
    }

    fn rounds(&self, run: &Run<'_>, piece: &Piece<Motion>) -> bool {
        piece.law.may_be_led(run.up()) && !run.is_on_rails() && run.me.phase != Phase::Dash
    }

    /// It lands on what it only slid between, or is at the very top: where a piece ended there, or what it slid along took the rest of the rise.
    fn instead(&mut self, run: &mut Run<'_>, piece: &Piece<Motion>, _: f64) -> Option<f64> {
        if let Some(decision) = held_up(run) {
            touch_down(run, &decision);
            return Some(0.0);
        }
        if run.me.phase.is_rising() && piece.velocity.dot(run.up()) <= 0.0 {
            top_out(run, piece.velocity);
            return Some(0.0);
        }
        note_slide(run, piece.law.pull.slides);
        None
    }

    /// Until gravity is another, at the top, at the fastest fall, where that cannot be seen any further, or at the surface of water.
    fn cut(&mut self, run: &mut Run<'_>, piece: &Piece<Motion>, path: Path) -> Path {
        let (up, motion) = (run.up(), &piece.law);
        let no_longer = |path: Path, span: f64| if span < path.span { piece.path(span) } else { path };
        self.top = if run.me.phase.is_rising() { motion.along.time_to(0.0, up) } else { f64::INFINITY };
        let other = motion.pull.until.map_or(f64::INFINITY, |speed| motion.along.time_to(speed, up));
        let path = no_longer(path, self.top.min(other));
        let limit = motion.pull.speed_at_limit(piece.velocity.dot(up));
        let path = no_longer(path, limit.map_or(f64::INFINITY, |speed| motion.time_to(speed, up, &path)));
        let path = no_longer(path, run.near.look_along(&path));
        self.over_water = swim::is_over_water(run);
        if self.over_water { no_longer(path, swim::splash_ahead(run, &path)) } else { path }
    }

    fn gone(&mut self, run: &mut Run<'_>, piece: &Piece<Motion>, path: &Path, used: f64) {
        let (up, steered) = (run.up(), &piece.law.steered);
        impact::note_fall(run, path, used);
        if used == steered.duration && run.walls.leaning(run.me.up).is_none() {
            // Exactly the speed asked for, so that the next piece has nothing left to steer.
            run.me.velocity = steered.end + up * run.me.velocity.dot(up);
        }
        if used == self.top {
            top_out(run, flatten64(run.me.velocity, up));
        }
    }

    /// Lands on what carries, slides along what does not.
    fn met(&mut self, run: &mut Run<'_>, contact: &Contact) {
        touched(run, contact);
    }

    fn met_nothing(&mut self, run: &mut Run<'_>) {
        if self.over_water && !swim::is_over_water(run) {
            swim::splashes(run);
        } else {
            look_underfoot(run);
        }
    }
}

/// Ground that carries after all, though nothing new was touched: between surfaces it only slid along.
fn held_up(run: &mut Run<'_>) -> Option<Decision> {
    let leaning = run.walls.leaning(run.me.up)?;
    if (run.me.velocity - leaning.velocity).dot(run.up()) > 0.0 {
        return None;
    }
    Some(run.near.ground(&run.limits)).filter(|found| found.is_firm() && run.may_land())
}

fn top_out(run: &mut Run<'_>, velocity: DVec3) {
    run.me.velocity = velocity;
    run.me.phase = Phase::Over;
    run.report(EventKind::Topped);
}

/// Down a wall from now on, or no longer.
fn note_slide(run: &mut Run<'_>, slides: bool) {
    if slides {
        run.me.phase = Phase::WallSlide;
    } else if run.me.phase == Phase::WallSlide {
        run.me.phase = Phase::Plain;
    }
}

/// Something was touched: land on what carries, slide along what does not.
fn touched(run: &mut Run<'_>, contact: &Contact) {
    let leaning = contact.normal.dot(run.me.up);
    if leaning > 1e-3 {
        let decision = run.near.ground(&run.limits);
        if decision.is_firm() && !leaves(run, &decision.ground) && run.may_land() {
            return touch_down(run, &decision);
        }
        run.ground = decision.ground;
    }
    let rise = run.me.velocity.dot(run.up());
    if leaning < -0.1 && rise > 0.0 {
        if run.me.phase.is_rising() && nudge::past(run, contact) {
            return;
        }
        impact::on_ceiling(run, contact);
        if run.me.phase.is_rising() {
            run.me.phase = Phase::Plain;
        }
    }
    if climb::meets(run, contact) {
        return;
    }
    impact::on_wall(run, contact);
    run.walls.refresh(&run.near);
    run.walls.add(*contact);
    run.me.velocity = run.walls.in_air(run.me.up).admissible(run.me.velocity);
}

/// True where it rises from what would carry it, and by more than a step: past the rim of one it is on its way up still, and is not to lose
/// its jump to that. The rest of a jump near its top is lower than a step: there it lands, and runs on.
fn leaves(run: &Run<'_>, ground: &Ground) -> bool {
    let (body, time) = (run.near.body_named(ground.body), run.near.time());
    let moves = body.map_or(DVec3::ZERO, |body| body.velocity_at(ground.point, time));
    let speed = (run.me.velocity - moves).dot(ground.normal.as_dvec3());
    let rise = speed * speed / (-2.0 * pull(run, speed, 0.0, 0.0).rate).max(0.0);
    speed > transitions::LEAVES && rise > f64::from(run.staying.step)
}

fn touch_down(run: &mut Run<'_>, decision: &Decision) {
    let (velocity, fell) = (run.me.velocity, run.me.activity.fallen());
    transitions::land(run, decision);
    // The walls of the fall are resolved again, because on the ground they may be steps.
    (run.walls, run.unmet) = (Walls::default(), MOST_TOUCHED);
    impact::on_ground(run, velocity, fell);
}

/// Nothing new was touched: what it slid along may have ended.
fn look_underfoot(run: &mut Run<'_>) {
    if run.ground.support == Ground::default().support {
        return;
    }
    run.walls.refresh(&run.near);
    if run.walls.leaning(run.me.up).is_none() {
        run.ground = Ground::default();
    }
}
