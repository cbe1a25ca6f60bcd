//! Directions and velocities that a state keeps in a few bytes.

use glam::{DVec3, Vec3};

/// A direction to within a degree, in two bytes; none at all as the default.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct CoarseDirection(pub(crate) [u8; 2]);

impl CoarseDirection {
    /// The sphere unfolded from an octahedron onto a square (Meyer et al., *On floating-point normal vectors*, 2010): each side
    /// from 1 to 255, so that 0, 0 is none.
    pub(crate) fn from(direction: Vec3) -> CoarseDirection {
        let d = direction / (direction.x.abs() + direction.y.abs() + direction.z.abs());
        let square = if d.z < 0.0 { fold(d.x, d.y) } else { [d.x, d.y] };
        CoarseDirection(square.map(|side| (side * 127.0 + 128.5) as u8))
    }

    /// The direction, one long; zero for none.
    #[must_use]
    pub fn direction(self) -> Vec3 {
        if self.0 == [0, 0] {
            return Vec3::ZERO;
        }
        let [x, y] = self.0.map(|side| (f32::from(side) - 128.0) / 127.0);
        let z = 1.0 - x.abs() - y.abs();
        let [x, y] = if z < 0.0 { fold(x, y) } else { [x, y] };
        let d = Vec3::new(x, y, z);
        d / d.length()
    }
}

/// A velocity to a centimetre per second, in six bytes; up to 327 m/s along each axis of the world.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct CoarseVelocity(pub(crate) [i16; 3]);

impl CoarseVelocity {
    /// The nearest that can be kept to a velocity in m/s; none to what is not a number.
    pub(crate) fn from(velocity: DVec3) -> CoarseVelocity {
        CoarseVelocity(velocity.to_array().map(|part| (part * 100.0).round() as i16))
    }

    /// True where there is none.
    #[must_use]
    pub fn is_zero(self) -> bool {
        self == CoarseVelocity::default()
    }

    /// The velocity, m/s in the world.
    #[must_use]
    pub fn velocity(self) -> DVec3 {
        DVec3::from_array(self.0.map(|part| f64::from(part) / 100.0))
    }
}

/// A part from 0 to 1, to a 255th, in one byte.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct CoarsePart(pub(crate) u8);

impl CoarsePart {
    /// The nearest that can be kept, more than nothing for the least that is; none of what is not a number.
    pub(crate) fn from(part: f64) -> CoarsePart {
        let least = if part > 0.0 { 1.0 } else { 0.0 };
        CoarsePart((part * 255.0).round().clamp(least, 255.0) as u8)
    }

    /// True where there is none.
    #[must_use]
    pub fn is_zero(self) -> bool {
        self.0 == 0
    }

    /// The part, 0 to 1.
    #[must_use]
    pub fn part(self) -> f32 {
        f32::from(self.0) / 255.0
    }
}

/// The lower half of the octahedron, folded out over the corners of the square; and back.
fn fold(x: f32, y: f32) -> [f32; 2] {
    [(1.0 - y.abs()).copysign(x), (1.0 - x.abs()).copysign(y)]
}
