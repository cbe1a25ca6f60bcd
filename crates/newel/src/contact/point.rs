//! One place of touch, and the question that found it.

use glam::{DVec3, Vec3};

use super::closest::Feature;
use super::key::ObstacleKey;
use super::sweep::Obstacle;

/// One place where the character touches, or nearly touches, something. In the coordinates of the patch.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Contact {
    /// Unit, from the obstacle toward the character, along the closest points.
    pub normal: Vec3,
    /// Unit normal of the face, turned to the character's side.
    pub face: Vec3,
    /// The obstacle's closest point.
    pub point: Vec3,
    /// From the tuned surface to the obstacle; negative within the skin and beyond.
    pub gap: f32,
    /// Which part of the obstacle it is.
    pub feature: Feature,
    /// The surface number of the obstacle.
    pub surface: u16,
    /// Index into the patch's bodies.
    pub body: u16,
    /// How the obstacle moves at that point, metres per second in the world.
    pub velocity: DVec3,
    /// How much faster than that it is to be left, m/s: see `touch.rs`.
    pub lead: f64,
    /// Which facet or round, as of the gather `gathered`.
    pub obstacle: Obstacle,
    /// The same by name, in any gather.
    pub key: ObstacleKey,
    /// The gather that the obstacle's index belongs to.
    pub gathered: u32,
}

/// A question about touching: asked again, it has the same answer.
#[derive(Clone, Copy, PartialEq)]
pub(super) struct Asked {
    pub place: DVec3,
    pub time: f64,
    pub reach: f32,
    pub gathers: u32,
}
