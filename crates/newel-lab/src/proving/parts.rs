//! Parts of generated land: triangles, and random numbers, directions and rotations.

use fastrand::Rng;
use newel::glam::{DQuat, DVec3};

/// A triangle by its corners, in metres.
pub type Triangle = [DVec3; 3];

/// A level square about the middle.
pub(super) fn floor(width: f64, y: f64) -> [Triangle; 2] {
    let corner = |x: f64, z: f64| DVec3::new(x * width, y, z * width);
    let [a, b, c, d] = [corner(-1.0, -1.0), corner(-1.0, 1.0), corner(1.0, 1.0), corner(1.0, -1.0)];
    [[a, b, c], [a, c, d]]
}

/// A random number between two.
pub(super) fn between(rng: &mut Rng, low: f64, high: f64) -> f64 {
    low + (high - low) * rng.f64()
}

/// A random direction.
pub(super) fn unit(rng: &mut Rng) -> DVec3 {
    let (z, turn) = (between(rng, -1.0, 1.0), between(rng, 0.0, std::f64::consts::TAU));
    let flat = (1.0 - z * z).sqrt();
    DVec3::new(flat * turn.cos(), z, flat * turn.sin())
}

/// A random rotation: any turn about up, and a tilt of up to `tilt` radians.
pub(super) fn tilted(rng: &mut Rng, tilt: f64) -> DQuat {
    let turn = DQuat::from_rotation_y(between(rng, 0.0, std::f64::consts::TAU));
    turn * DQuat::from_rotation_x(between(rng, -tilt, tilt)) * DQuat::from_rotation_z(between(rng, -tilt, tilt))
}
