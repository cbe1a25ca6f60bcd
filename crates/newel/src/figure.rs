//! The shape of a character as it stands, and the region about it.

use glam::{DVec3, Vec3};

use crate::plane::Plane;
use crate::region::Region;
use crate::shape::{Form, Shape};
use crate::state::State;
use crate::tuning::Tuning;

/// The margin of a region around the character, metres. The height and the motion of `AHEAD` seconds add to it.
const SPARE: f64 = 1.0;
/// Seconds of motion that a region covers: two grid steps.
const AHEAD: f64 = 1.0 / 30.0;

/// A shape as it stands: up, the way from its feet to its head, and the plane it keeps to.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Figure {
    pub shape: Shape,
    pub up: Vec3,
    pub axis: Vec3,
    pub keeps: Plane,
}

impl Figure {
    /// The shape of a character as it stands.
    pub fn of(state: &State, tuning: &Tuning) -> Figure {
        Figure { shape: tuning.shape_in(state.stance), up: state.up, axis: state.axis, keeps: state.keeps }
    }

    /// Its middle with its feet at `place`, in the world.
    pub fn middle(&self, place: DVec3) -> DVec3 {
        let Figure { shape, up, axis, .. } = *self;
        if axis == up || shape.form == Form::Box {
            return place + (up * (0.5 * shape.height)).as_dvec3();
        }
        let foot = place + (up * shape.radius).as_dvec3();
        foot + (axis * (0.5 * shape.core_length())).as_dvec3()
    }

    /// The box about it with its feet at `place`, in the world: its middle and half its sides.
    pub fn bounding_box(&self, place: DVec3) -> (DVec3, DVec3) {
        let Figure { shape, up, axis, keeps } = *self;
        let half = match shape.form {
            // A box is upright in its plane, and as deep as wide.
            Form::Box => {
                let side = keeps.normal.cross(up).abs() + keeps.normal.abs();
                up.abs() * (0.5 * shape.height) + side * shape.radius
            }
            Form::Capsule => axis.abs() * (0.5 * shape.core_length()) + Vec3::splat(shape.radius),
        };
        (self.middle(place), half.as_dvec3())
    }
}

impl Region {
    /// The box that a character in this state usually queries within one grid step.
    pub fn about(state: &State, tuning: &Tuning) -> Region {
        let (middle, half) = Figure::of(state, tuning).bounding_box(state.position);
        let spare = SPARE + f64::from(tuning.shape().height) + state.velocity.length() * AHEAD;
        Region::between((middle - half - spare, middle + half + spare))
    }
}
