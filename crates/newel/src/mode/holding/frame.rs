//! The frame of what is held on to: out of it, up along it, and to the right.

use glam::{DVec3, Vec3};

/// Unit vectors square to each other, as seen by who faces the surface.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Frame {
    /// Away from the surface.
    pub out: DVec3,
    /// The steepest way up along it.
    pub up: DVec3,
    /// To the right, level.
    pub right: DVec3,
    /// Away from the surface, level.
    pub level_out: DVec3,
}

impl Frame {
    /// That of a surface with this normal, unless it is level.
    pub fn on(normal: Vec3, up: DVec3) -> Option<Frame> {
        let out = normal.as_dvec3();
        let out = out / out.length();
        let right = up.cross(out);
        let length = right.length();
        if length.is_nan() || length < 1e-3 {
            return None;
        }
        let right = right / length;
        Some(Frame { out, up: out.cross(right), right, level_out: right.cross(up) })
    }

    /// Into the surface, level.
    pub fn ahead(&self) -> Vec3 {
        -self.level_out.as_vec3()
    }

    /// The parts of a velocity to the right and up along the surface.
    pub fn parts(&self, velocity: DVec3) -> (f64, f64) {
        (velocity.dot(self.right), velocity.dot(self.up))
    }

    /// The velocity with these parts.
    pub fn along(&self, (right, up): (f64, f64)) -> DVec3 {
        self.right * right + self.up * up
    }

    /// A velocity along another surface, turned onto this one.
    pub fn carried_from(&self, other: &Frame, velocity: DVec3) -> DVec3 {
        self.along(other.parts(velocity))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn right_is_right_for_who_faces_it_and_up_is_up_along_it() {
        let frame = Frame::on(Vec3::Z, DVec3::Y).unwrap();
        assert_eq!((frame.right, frame.up, frame.level_out), (DVec3::X, DVec3::Y, DVec3::Z));
        assert_eq!(frame.ahead(), Vec3::NEG_Z);
        let leaning = Frame::on(Vec3::new(0.0, 0.6, 0.8), DVec3::Y).unwrap();
        assert!(
            (leaning.up - DVec3::new(0.0, 0.8, -0.6)).length() < 1e-7 && (leaning.level_out - DVec3::Z).length() < 1e-7
        );
        assert!(Frame::on(Vec3::Y, DVec3::Y).is_none());
        let (right, up) = leaning.parts(leaning.along((2.0, 3.0)));
        assert!((right - 2.0).abs() < 1e-12 && (up - 3.0).abs() < 1e-12);
    }
}
