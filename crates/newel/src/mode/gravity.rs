//! Which way gravity pulls: its own, or what zones make of it; and what follows where that changes.

use glam::{DVec3, Vec3};

use super::transitions::reground;
use crate::command::MOST_PULL;
use crate::contact::closest::Feature;
use crate::contact::point::Contact;
use crate::math::{carried_over, direction};
use crate::outcome::EventKind;
use crate::phase::Mode;
use crate::run::Run;
use crate::support::Support;
use crate::terrain::{Effect, Pull, Zone};

/// Ups closer than this, radians, are the same: rest is rest.
const SAME: f32 = 1e-6;
/// Gravity weaker than this, as a part of the tuned one, has no direction.
const FAINT: f64 = 1e-6;
/// How much of the heading must lead into a wall for it to be what is stood on, where that is what pulls.
const PRESSING: f32 = 0.25;
/// A turn of gravity by more than this, as a cosine, at one moment is told: on a planet it turns all the time.
pub(super) const SUDDEN: f32 = 0.97;
/// A clinging character in the air is pulled toward surfaces within this distance, in heights; first of all toward what faces up by this cosine.
const REACH: f32 = 2.0;
const UNDER: f32 = 0.2;

/// Samples gravity: where zones act `anew` at each moment of the grid, so that every tick rate samples the same; and its own at any.
pub(super) fn sample(run: &mut Run<'_>, anew: bool) {
    let zoned = !run.near.patch.zones().is_empty();
    if (zoned || run.me.marks.clings()) && !anew {
        return;
    }
    // The ground underfoot matters only if gravity pulls toward it.
    let toward_it = |zone: &Zone| matches!(zone.effect, Effect::Pull(Pull::Ground(_)));
    let asks = run.me.marks.clings() || run.near.patch.zones().iter().any(toward_it);
    let down = if asks { toward_ground(run) } else { -run.up() };
    let (pull, factor) = if zoned { pull_of_zones(run, down) } else { (own_pull(run, down), 1.0) };
    if !zoned {
        hold(run, false);
    }
    // A unit vector of single precision is one long but for rounding.
    let strength = Some(pull.length()).filter(|l| (l - 1.0).abs() > 1e-6).unwrap_or(1.0);
    run.me.gravity_factor = (strength.min(f64::from(MOST_PULL)) * factor) as f32;
    if strength > FAINT {
        point_up(run, (pull * (-1.0 / strength)).as_vec3());
    }
}

/// A zone pulls it toward whatever it stands on from now on, or none does any more.
fn hold(run: &mut Run<'_>, so: bool) {
    let before = run.me.marks.adheres();
    run.me.marks.set_drawn(so);
    if run.me.marks.adheres() != before || run.limits.rolls != run.me.marks.adheres() {
        run.look_for_ground_anew();
    }
}

/// Its own gravity here.
fn own_pull(run: &Run<'_>, ground: DVec3) -> DVec3 {
    let weight = run.me.weight.as_dvec3();
    if run.me.marks.clings() { ground * weight.length() } else { weight }
}

/// The way to whatever it stands on, one long; in the air to what it is drawn to there, and as before where it hovers, swims or holds on. Over an edge it goes round with the foot; and a wall that its
/// heading leads into is what it stands on from then on.
fn toward_ground(run: &mut Run<'_>) -> DVec3 {
    if run.me.mode == Mode::Air {
        return toward_surface(run);
    }
    if !run.me.is_on_ground() {
        return -run.up();
    }
    if let Some(wall) = wall_ahead(run) {
        return -wall.as_dvec3();
    }
    let foot = pivot(run) - run.ground.point;
    let length = foot.length();
    match run.ground.support {
        Support::Edge if length > 0.0 => foot / -length,
        _ => -run.ground.normal.as_dvec3(),
    }
}

/// In the air: to the nearest surface in reach that is under it, or else to the nearest. After a while it is let go, and its own gravity
/// pulls.
fn toward_surface(run: &mut Run<'_>) -> DVec3 {
    if -run.me.coyote >= run.tuning.values().air.clings {
        return direction(run.me.weight).unwrap_or(-run.me.up).as_dvec3();
    }
    run.near.touch(REACH * run.near.shape.height);
    let (up, contacts) = (run.me.up, &run.near.contacts);
    let nearest =
        |least: f32| contacts.iter().filter(|c| c.normal.dot(up) > least).min_by(|a, b| a.gap.total_cmp(&b.gap));
    nearest(UNDER).or_else(|| nearest(f32::NEG_INFINITY)).map_or(-run.up(), |contact| -contact.normal.as_dvec3())
}

/// The wall that the round of its foot touches and its heading leads into, if any, by its normal: more than into what it stands on, or
/// in a corner the two would take turns.
fn wall_ahead(run: &mut Run<'_>) -> Option<Vec3> {
    let heading = run.heading_flat();
    if heading == Vec3::ZERO {
        return None;
    }
    let whole = run.heading_in_space();
    let into_ground = whole.dot(run.ground.normal);
    run.near.touch(run.near.shape.touching());
    let (up, staying) = (run.me.up, run.staying);
    let foot = (pivot(run) - run.near.patch.origin()).as_vec3();
    let reach = run.near.shape.pivot() + run.near.shape.touching();
    let is_wall = |c: &&Contact| {
        let by_foot = c.feature == Feature::Face && (c.point - foot).length() <= reach;
        by_foot
            && !staying.walkable(c.normal, up)
            && heading.dot(c.normal) < -PRESSING * heading.length()
            && whole.dot(c.normal) < into_ground
    };
    let walls = run.near.contacts.iter().filter(is_wall);
    walls.reduce(|a, b| if heading.dot(b.normal) < heading.dot(a.normal) { b } else { a }).map(|c| c.normal)
}

/// Gravity here by the zones, and its factor. A value that is not a number has no effect: the terrain's mistake must not
/// become the state's.
fn pull_of_zones(run: &mut Run<'_>, ground: DVec3) -> (DVec3, f64) {
    let (middle, foot) = (run.near.middle(), pivot(run));
    let (mut pull, mut factor, mut held) = (own_pull(run, ground), 1.0, false);
    for zone in run.near.patch.zones() {
        let part = zone.part(middle);
        match zone.effect {
            _ if part <= 0.0 || part.is_nan() => {}
            Effect::Gravity(own) if !own.is_nan() => factor *= 1.0 + (f64::from(own).clamp(0.0, 10.0) - 1.0) * part,
            Effect::Pull(other) => {
                let there = other.at(foot, ground);
                if there.is_finite() {
                    pull += (there - pull) * part;
                    held = matches!(other, Pull::Ground(_));
                }
            }
            _ => {}
        }
    }
    hold(run, held);
    (pull, factor)
}

/// The point that stays in place when up changes.
fn pivot(run: &Run<'_>) -> DVec3 {
    run.near.place + (run.me.up * run.near.shape.pivot()).as_dvec3()
}

/// Up is this way from now on. The body turns to it later; the middle of its foot's round is where it was.
fn point_up(run: &mut Run<'_>, to: Vec3) {
    if run.me.keeps.is_top_view(run.me.up) {
        return;
    }
    let Some(to) = direction(run.me.keeps.flat(to)) else { return };
    let from = run.me.up;
    if (to - from).length() < SAME {
        return;
    }
    let pivot = pivot(run);
    run.me.facing = carried_over(run.me.facing, from, to, run.me.facing);
    run.set_up(to, pivot - (to * run.near.shape.pivot()).as_dvec3());
    let cosine = from.dot(to);
    if cosine < SUDDEN {
        let degrees = libm::acosf(cosine.clamp(-1.0, 1.0)).to_degrees();
        run.report(EventKind::GravityTurned { degrees });
    }
    if run.me.is_on_ground() {
        reground(run);
    }
}
