//! How hard it meets things: falls are measured, landings and hits told, and hard landings shake it.

use glam::DVec3;

use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::outcome::EventKind;
use crate::phase::Phase;
use crate::run::Run;

/// Surfaces that face up or down by more than this are floors and ceilings, not walls.
const SIDE: f32 = 0.5;

/// It has gone `used` seconds of a path in the air: how far it is now below the highest point of its flight.
pub(super) fn note_fall(run: &mut Run<'_>, path: &Path, used: f64) {
    let up = run.up();
    let (before, rate) = (path.velocity.dot(up), path.rate.dot(up));
    let rise = path.at(used).dot(up);
    let after = before + rate * used;
    let fallen = f64::from(run.me.activity.fallen());
    let fallen = if before > 0.0 && after < 0.0 {
        // Over the top on the way: that is where the fall begins, unless it has been higher before.
        (fallen - 0.5 * before * before / -rate).max(0.0) + 0.5 * after * after / -rate
    } else {
        (fallen - rise).max(0.0)
    };
    run.me.activity.set_fallen(fallen as f32);
}

/// It has landed, with this velocity in the world before.
pub(super) fn on_ground(run: &mut Run<'_>, velocity: DVec3, fell: f32) {
    let tuned = run.tuning.values().impact;
    let speed = (run.carried - velocity).dot(run.up()) as f32;
    let felt = speed * (1.0 - depth(run) / tuned.softened).max(0.0);
    let (hardness, damage, surface) = (tuned.hardness(felt), tuned.damage_at(felt), run.ground.surface);
    run.report_at(velocity, EventKind::Landed { speed, fell, hardness, damage, surface });
    let lasts = hardness * tuned.lasts;
    if lasts > 0.0 && tuned.slowed < 1.0 && (run.me.phase == Phase::Plain || run.staggers()) {
        // As hard as can be leaves what is tuned; half as hard takes half as much.
        run.me.control = 1.0 - hardness * (1.0 - tuned.slowed);
        (run.me.phase, run.me.phase_left) = (Phase::Shaken, lasts);
    }
}

/// How deep it is in water, metres.
fn depth(run: &Run<'_>) -> f32 {
    run.waterline().map_or(0.0, |line| line.depth.max(0.0) as f32)
}

/// Its head met something while it rose.
pub(super) fn on_ceiling(run: &mut Run<'_>, contact: &Contact) {
    let speed = closing(run, contact);
    run.report(EventKind::Bumped { speed, surface: contact.surface });
}

/// It met something that does not carry it: told where that is a wall, and hit hard enough.
pub(super) fn on_wall(run: &mut Run<'_>, contact: &Contact) {
    if contact.normal.dot(run.me.up).abs() > SIDE || run.displaced.is_some() {
        return;
    }
    let tuned = run.tuning.values().impact;
    let speed = closing(run, contact);
    if speed < tuned.told {
        return;
    }
    let (hardness, damage) = (tuned.hardness(speed), tuned.damage_at(speed));
    run.report(EventKind::HitWall { speed, normal: contact.normal, surface: contact.surface, hardness, damage });
    if run.me.phase == Phase::ThrownAtWall {
        run.in_control();
    }
}

/// How fast it comes against what it meets, square to that, m/s.
fn closing(run: &Run<'_>, contact: &Contact) -> f32 {
    (contact.velocity - run.me.velocity - run.carried).dot(contact.normal.as_dvec3()).max(0.0) as f32
}
