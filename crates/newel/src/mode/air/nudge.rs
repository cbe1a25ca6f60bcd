//! Past the corner of something overhead: aside by as little as it takes to rise on.

use glam::Vec3;

use crate::contact::point::Contact;
use crate::math::{direction, flatten};
use crate::outcome::EventKind;
use crate::run::Run;

/// Distances tried, and halvings of the first that serves.
const STEPS: u8 = 8;
const HALVINGS: usize = 8;

/// Moves aside from what was met overhead, at most as far as tuned; false, unmoved, where that does not help.
pub(super) fn past(run: &mut Run<'_>, contact: &Contact) -> bool {
    let Some(most) = run.tuning.values().jump.map(|jump| jump.nudge).filter(|most| *most > 0.0) else { return false };
    let up = run.me.up;
    let flat = |v: Vec3| direction(run.me.keeps.flat(flatten(v, up)));
    let away = flat(run.near.local() - contact.point);
    let along = flat(run.me.velocity.as_vec3()).or(flat(run.me.facing));
    let ways = [away, along, along.map(|v| -v), along.map(|v| v.cross(up)), along.map(|v| up.cross(v))];
    for step in 1..=STEPS {
        let distance = most * f32::from(step) / f32::from(STEPS);
        for way in ways.into_iter().flatten() {
            let way = run.me.keeps.flat(way);
            if !rises(run, way * distance) {
                continue;
            }
            let (mut short, mut enough) = (distance - most / f32::from(STEPS), distance);
            for _ in 0..HALVINGS {
                let middle = 0.5 * (short + enough);
                (short, enough) = if rises(run, way * middle) { (short, middle) } else { (middle, enough) };
            }
            run.near.push(way * enough);
            run.report(EventKind::Nudged { distance: enough });
            return true;
        }
    }
    false
}

/// True where there is room to go aside and a radius of room above there. Moves nothing.
fn rises(run: &mut Run<'_>, aside: Vec3) -> bool {
    run.elsewhere(|run| {
        aside != Vec3::ZERO
            && run.near.push(aside).1.is_none()
            && run.near.push(run.me.up * run.near.shape.radius).1.is_none()
    })
}
