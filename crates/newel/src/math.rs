//! Small vector helpers that more than one layer needs.
//!
//! Inside a tick only + - * / and square roots are used, and for everything else the pinned `libm`: the platform's
//! own functions differ in the last bit, and then replays do.

use glam::{DVec3, Vec3};

/// The part of `v` square to the unit vector `up`.
pub(crate) fn flatten(v: Vec3, up: Vec3) -> Vec3 {
    v - up * v.dot(up)
}

/// The part of `v` square to the unit vector `up`, in double precision.
pub(crate) fn flatten64(v: DVec3, up: DVec3) -> DVec3 {
    v - up * v.dot(up)
}

/// `v` at length one, or `None` where it is too short to have a direction.
pub(crate) fn direction(v: Vec3) -> Option<Vec3> {
    let length = v.length();
    (length > 1e-12).then(|| v / length)
}

/// Any unit vector square to the unit vector `up`; always the same one for the same `up`.
pub(crate) fn any_square_to(up: Vec3) -> Vec3 {
    let away = if up.z.abs() < 0.9 { Vec3::Z } else { Vec3::X };
    let flat = flatten(away, up);
    flat / flat.length()
}

/// The first time, from 0 on, at which `height + speed * t + rate * t * t / 2` is zero or less while falling.
///
/// Of the two forms of the root always the one that adds, never the one that subtracts: neither a vanishing rate nor a
/// vanishing height loses digits.
pub(crate) fn first_zero(height: f32, speed: f32, rate: f32) -> Option<f32> {
    let inside = speed * speed - 2.0 * rate * height;
    if inside < 0.0 {
        return None;
    }
    if speed > 0.0 {
        // It rises first: back down only if the rate turns it round.
        return (rate < 0.0).then(|| (speed + inside.sqrt()) / -rate);
    }
    if height <= 0.0 {
        return (speed < 0.0 || rate < 0.0).then_some(0.0);
    }
    let below = inside.sqrt() - speed;
    (below > 0.0).then(|| 2.0 * height / below)
}

/// `from` turned toward `to` about the unit axis `up`, by at most `most` radians; both unit and square to `up`.
/// When they are exactly opposite the turn is always to the left.
pub(crate) fn turned_toward(from: Vec3, to: Vec3, up: Vec3, most: f32) -> Vec3 {
    let along = from.dot(to).clamp(-1.0, 1.0);
    let left = up.cross(from);
    let across = left.dot(to);
    let angle = libm::atan2f(across.abs(), along);
    if angle <= most {
        return to;
    }
    let way = if across < 0.0 { -1.0 } else { 1.0 };
    let turned = from * libm::cosf(most) + left * (way * libm::sinf(most));
    direction(flatten(turned, up)).unwrap_or(from)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn first_zero_agrees_with_the_schoolbook_roots() {
        assert_eq!(first_zero(1.0, -1.0, 0.0), Some(1.0));
        assert_eq!(first_zero(1.0, 1.0, 0.0), None);
        assert_eq!(first_zero(1.0, 0.0, 2.0), None, "a rate upward never falls back");
        assert_eq!(first_zero(0.0, 1.0, -2.0), Some(1.0), "thrown up from zero");
        assert_eq!(first_zero(0.0, 0.0, -2.0), Some(0.0));
        assert_eq!(first_zero(-1e-6, -1.0, 0.0), Some(0.0));
        let down = first_zero(4.9, 0.0, -9.8).unwrap();
        assert!((down - 1.0).abs() < 1e-6, "{down}");
        let over_the_top = first_zero(1.0, 3.0, -2.0).unwrap();
        assert!((1.0 + 3.0 * over_the_top - over_the_top * over_the_top).abs() < 1e-5);
    }

    #[test]
    fn turning_takes_the_short_way_and_stops_at_the_goal() {
        let up = Vec3::Y;
        let half = turned_toward(Vec3::X, Vec3::Z, up, core::f32::consts::FRAC_PI_4);
        assert!((half - Vec3::new(0.5f32.sqrt(), 0.0, 0.5f32.sqrt())).length() < 1e-6, "{half}");
        assert_eq!(turned_toward(Vec3::X, Vec3::Z, up, 2.0), Vec3::Z);
        let about = turned_toward(Vec3::X, -Vec3::X, up, 0.5);
        assert!(about.dot(up.cross(Vec3::X)) > 0.0, "exactly opposite turns left");
    }
}
