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

/// `v`, square to the unit vector `up`, turned about it by `angle` radians to the left.
pub(crate) fn turned_left(v: Vec3, up: Vec3, angle: f32) -> Vec3 {
    let turned = v * libm::cosf(angle) + up.cross(v) * libm::sinf(angle);
    direction(flatten(turned, up)).unwrap_or(v)
}

/// The same in double precision, by any angle, without a look at its length.
pub(crate) fn turned_left64(v: DVec3, up: DVec3, angle: f64) -> DVec3 {
    if angle == 0.0 { v } else { v * libm::cos(angle) + up.cross(v) * libm::sin(angle) }
}

/// The angle from `from` to `to` about the unit axis `up`, radians, positive to the left; all but opposite is to the
/// left too, so that rounding never chooses the way.
pub(crate) fn angle_left(from: Vec3, to: Vec3, up: Vec3) -> f32 {
    let along = from.dot(to);
    let across = up.cross(from).dot(to);
    let across = if along < 0.0 && across.abs() < 1e-5 { across.abs() } else { across };
    libm::atan2f(across, along)
}

/// `v`, carried along where the unit vector `from` turns to the unit vector `to` the short way; half a turn is made about `about`,
/// square to `from`. One long if `v` is, and square to `to` if `v` was to `from`.
pub(crate) fn carried_over(v: Vec3, from: Vec3, to: Vec3, about: Vec3) -> Vec3 {
    if from == to {
        return v;
    }
    // All but upside down what single precision leaves of their lengths would count a thousandfold.
    let unit = |v: Vec3| v.as_dvec3() / v.as_dvec3().length();
    let (v, a, b, about) = (v.as_dvec3(), unit(from), unit(to), unit(about));
    let (cosine, axis) = (a.dot(b), a.cross(b));
    let turned = match cosine > -0.9998 {
        true => v * cosine + axis.cross(v) + axis * (axis.dot(v) / (1.0 + cosine)),
        // Half a turn, and the little that is missing to the full way or is too much.
        false => {
            let (half, axis) = (about * (2.0 * about.dot(v)) - v, b.cross(a));
            half * -cosine + axis.cross(half) + axis * (axis.dot(half) / (1.0 - cosine))
        }
    };
    let length = turned.length();
    if length > 0.0 { (turned * (v.length() / length)).as_vec3() } else { Vec3::ZERO }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_carried_over_stays_as_it_is_to_up_also_all_but_upside_down() {
        let (up, ahead) = (Vec3::Y, Vec3::Z);
        for off in [0.0f32, 1e-6, 1e-3, 0.015, 0.019, 0.021, 0.1, 1.0, 2.0] {
            for aside in [Vec3::X, Vec3::Z, Vec3::new(0.6, 0.0, -0.8)] {
                let to = direction(-up * libm::cosf(off) + aside * libm::sinf(off)).unwrap();
                let carried = carried_over(ahead, up, to, ahead);
                assert!(
                    carried.dot(to).abs() < 2e-6 && (carried.length() - 1.0).abs() < 1e-6,
                    "{off} {aside}: {carried}"
                );
                let tilted = carried_over(Vec3::new(0.0, 0.6, 0.8), up, to, ahead);
                assert!((tilted.dot(to) - 0.6).abs() < 2e-6, "{off} {aside}: {tilted}");
            }
        }
    }

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
    fn angles_are_the_short_way_and_left_when_opposite() {
        let up = Vec3::Y;
        for degrees in -179..180 {
            let angle = (degrees as f32).to_radians();
            let to = turned_left(Vec3::X, up, angle);
            assert!((angle_left(Vec3::X, to, up) - angle).abs() < 1e-6, "{degrees}");
        }
        assert!((turned_left(Vec3::X, up, core::f32::consts::FRAC_PI_2) - Vec3::NEG_Z).length() < 1e-6);
        for off in [1e-7f32, 0.0, -1e-7] {
            assert!(angle_left(Vec3::X, Vec3::new(-1.0, 0.0, off), up) > 3.0, "exactly opposite is to the left");
        }
    }

    /// Every function that is used, at thousands of places, folded to one number: another release that rounds one bit otherwise is noticed
    /// here before a replay does.
    #[test]
    fn bits_of_functions_are_what_they_were() {
        let mut hash = 0xCBF2_9CE4_8422_2325_u64;
        let mut note = |bits: u64| hash = (hash ^ bits).wrapping_mul(0x0100_0000_01B3);
        for n in 0..4000 {
            let x = f64::from(n) * 0.00731 - 14.62;
            let part = x / 14.63;
            let singles = [libm::cosf(x as f32), libm::sinf(x as f32), libm::acosf(part as f32)];
            singles.iter().for_each(|y| note(u64::from(y.to_bits())));
            note(u64::from(libm::atan2f(x as f32, 1.5).to_bits()));
            note(u64::from(libm::powf(part.abs() as f32, 1.7).to_bits()));
            let doubles = [libm::sin(x), libm::cos(x), libm::acos(part), libm::asin(part), libm::atan2(x, 2.5)];
            doubles.iter().for_each(|y| note(y.to_bits()));
            let others = [libm::exp(x), libm::expm1(x), libm::log(x.abs() + 0.1), libm::cbrt(x), libm::round(x)];
            others.iter().for_each(|y| note(y.to_bits()));
            note(libm::pow(part.abs(), 2.3).to_bits());
        }
        assert_eq!(hash, 0xFDD9_0E75_6280_4DAA, "{hash:#x}: libm rounds otherwise than 0.2.16 did, and replays part");
    }
}
