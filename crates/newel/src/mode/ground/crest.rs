//! Crests: hold on, or fly off where that is tuned.
//!
//! Beside the walk runs the flight it would have been had nothing held it down: at every bend that flight gains what the
//! ground's own rise loses, and gravity takes it back. Where the flight would top out higher over the ground than tuned,
//! it is let go. Decided at the bends, from speed, crest and gravity, and so at the same place at every tick rate and
//! however finely a crest is cut into facets.

use glam::DVec3;

use super::footwork::{settle_down, stand_on};
use crate::activity::CrestFlight;
use crate::contact::arcs::Path;
use crate::mode::trail::Trail;
use crate::mode::transitions::lose;
use crate::outcome::EventKind;
use crate::run::{Before, Run};

/// The ground has turned under the walk, whose velocity was `before`. Returns the speed with which it flies off, if it does.
pub(super) fn turned(run: &mut Run<'_>, before: DVec3) -> Option<f64> {
    let most = f64::from(run.tuning.values().ground.fly_off.filter(|_| may_fly_off(run))?);
    let crest = run.me.activity.crest();
    let (height, away) = (f64::from(crest.height), f64::from(crest.speed));
    let gained = away + (before - run.me.velocity).dot(run.up());
    let gravity = gravity(run);
    let top = if gravity > 0.0 { height + gained * gained / (2.0 * gravity) } else { f64::INFINITY };
    let is_over = gained <= 0.0 && height <= 0.0;
    let goes_on = CrestFlight { speed: gained as f32, ..crest };
    run.me.activity.set_crest(if is_over { CrestFlight::default() } else { goes_on });
    (gained > 0.0 && top > most).then_some(gained)
}

/// True where it may fly off at all.
pub(super) fn may_fly_off(run: &Run<'_>) -> bool {
    !run.guarded && run.displaced.is_none() && run.tuning.values().ground.fly_off.is_some()
}

/// Goes back over the piece of way that ended at `used` to where it is let go, and flies; returns the seconds used. It began as it was
/// `before`.
pub(super) fn fly_off(run: &mut Run<'_>, trail: &Trail, path: &Path, used: f64, before: &Before) -> f64 {
    run.back_to(before);
    run.me.velocity = path.velocity + thrown_away(run);
    trail.stand_at(run, trail.from, 0.0);
    let mut leaves = run.before();
    let (held, _) = trail.last(run, used, |run, middle| {
        run.back_to(before);
        trail.go_to(run, middle);
        run.me.velocity = path.velocity_at(middle);
        fly_on(run, middle);
        if let Some(found) = settle_down(run) {
            stand_on(run, &found);
        }
        let holds = turned(run, path.velocity_at(middle)).is_none();
        if holds {
            run.me.velocity += thrown_away(run);
            // Steps on the way there were only tried.
            leaves = run.before();
            leaves.events = before.events;
        }
        holds
    });
    run.back_to(&leaves);
    trail.stand_at(run, run.near.place, held);
    let support = run.ground.support;
    lose(run);
    run.lost_at = Some((run.near.place, run.near.time()));
    run.report(EventKind::LeftGround { support });
    held
}

/// The same flight, `span` seconds on: back on the ground it is no more.
pub(super) fn fly_on(run: &mut Run<'_>, span: f64) {
    let crest = run.me.activity.crest();
    if crest == CrestFlight::default() {
        return;
    }
    let (height, away) = (f64::from(crest.height), f64::from(crest.speed));
    let gravity = gravity(run);
    let (height, away) = (height + (away - 0.5 * gravity * span) * span, away - gravity * span);
    let goes_on = CrestFlight { height: height as f32, speed: away as f32 };
    run.me.activity.set_crest(if height > 0.0 { goes_on } else { CrestFlight::default() });
}

fn thrown_away(run: &Run<'_>) -> DVec3 {
    run.up() * f64::from(run.me.activity.crest().speed.max(0.0))
}

fn gravity(run: &Run<'_>) -> f64 {
    run.tuning.falling_gravity() * f64::from(run.modifiers.gravity) * f64::from(run.me.gravity_factor)
}
