//! The shape of a character: a capsule about the feet, or an upright box for one that keeps to a plane.

use glam::Vec3;

use crate::math::{any_square_to, direction, flatten};

/// Form of a character.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "snake_case"))]
pub enum Form {
    /// All points within the radius of an upright segment.
    #[default]
    Capsule,
    /// A rectangle in the plane that the character keeps to, its axes fixed: upright along up in a side view, level in a
    /// top view. It stands flush on edges.
    Box,
}

/// The shape of a character, standing along its own up. Lengths in metres.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Shape {
    /// Capsule or box.
    pub form: Form,
    /// Radius of a capsule, half the width of a box.
    pub radius: f32,
    /// Height from the feet to the top of the head: of a capsule at least twice the radius, of a box at least half of it. A box in a top
    /// view is as deep as wide.
    pub height: f32,
}

/// The part of the radius that is skin, and the most it can be in metres: see [`Shape::skin`].
const SKIN_PART: f32 = 0.03;
const SKIN_MOST: f32 = 0.01;

/// Contacts closer than this many tolerances touch.
const TOUCHING: f32 = 20.0;

/// The corners of a box are rounded by this many skins, so that what is deeper than the skin still has a direction out.
const BOX_ROUNDING: f32 = 2.0;

impl Shape {
    /// A capsule.
    #[must_use]
    pub fn capsule(radius: f32, height: f32) -> Shape {
        Shape { form: Form::Capsule, radius, height }
    }

    /// The skin, in metres: 3 % of the radius, at most 1 cm.
    ///
    /// The skin lies *inside* the tuned size. Contacts rest with the tuned surface just touching; a character
    /// overlaps only once a surface is deeper than the skin.
    #[must_use]
    pub fn skin(&self) -> f32 {
        (self.radius * SKIN_PART).min(SKIN_MOST)
    }

    /// The shape that lies the part `part`, 0 to 1, of the way to another.
    pub(crate) fn toward(&self, other: &Shape, part: f32) -> Shape {
        let between = |from: f32, to: f32| from + (to - from) * part;
        Shape { radius: between(self.radius, other.radius), height: between(self.height, other.height), ..*self }
    }

    /// How exactly contact is found, in metres: 5 micrometres, and in proportion for characters over 10 m.
    #[must_use]
    pub fn tolerance(&self) -> f32 {
        5e-6 * (self.height / 10.0).max(1.0)
    }

    /// How near a contact is that touches, metres.
    pub(crate) fn touching(&self) -> f32 {
        TOUCHING * self.tolerance()
    }

    /// The radius about its segments: all of a capsule's, a little of a box's.
    pub(crate) fn rounding(&self) -> f32 {
        match self.form {
            Form::Capsule => self.radius,
            Form::Box => BOX_ROUNDING * self.skin(),
        }
    }

    /// How long the segment within a capsule is, metres.
    pub(crate) fn core_length(&self) -> f32 {
        self.height - 2.0 * self.radius
    }

    /// How high over the feet, along up, is what stays where it is when up changes: the middle of a foot's round, or of a box.
    pub(crate) fn pivot(&self) -> f32 {
        match self.form {
            Form::Capsule => self.radius,
            Form::Box => 0.5 * self.height,
        }
    }

    /// The rounded segments it is made of, for feet at `feet`, a unit `up`, the unit vector `axis` from the feet to the head, and the
    /// normal of the plane it keeps to.
    pub(crate) fn cores(&self, feet: Vec3, up: Vec3, axis: Vec3, plane: Vec3) -> Cores {
        let radius = self.rounding();
        if self.form == Form::Capsule {
            let low = feet + up * radius;
            // Upright in one sum, which rounds once.
            let upright = axis == up;
            let high = if upright { feet + up * (self.height - radius) } else { low + axis * self.core_length() };
            return Cores::One([Core { low, high, radius }]);
        }
        let half = self.radius - radius;
        let (middle, along, tall) = match direction(flatten(axis, plane)) {
            // From the side: upright.
            Some(up) => (feet + up * (self.height * 0.5), up, self.height * 0.5 - radius),
            // From above: level.
            None => (feet + up * (self.height * 0.5), any_square_to(up), half),
        };
        let (along, aside) = (along * tall, plane.cross(along) * half);
        let corner = |a: f32, b: f32| middle + along * a + aside * b;
        let [a, b, c, d] = [corner(-1.0, -1.0), corner(-1.0, 1.0), corner(1.0, 1.0), corner(1.0, -1.0)];
        // The bottom first: where several touch alike, it is what one stands on.
        let side = |low: Vec3, high: Vec3| Core { low, high, radius };
        Cores::Four([side(a, b), side(a, d), side(b, c), side(d, c)])
    }
}

/// A placed segment with a radius about it, in the coordinates of a patch.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Core {
    /// Centre of one round end: for a capsule the lower.
    pub low: Vec3,
    /// Centre of the other.
    pub high: Vec3,
    /// Radius about the segment.
    pub radius: f32,
}

/// The segments of a placed shape: one of a capsule, the four sides of a box.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Cores {
    One([Core; 1]),
    Four([Core; 4]),
}

impl Cores {
    /// The least and the greatest corner of the box about the segments, without their radius.
    pub fn bounds(&self) -> (Vec3, Vec3) {
        let ends = self.iter().map(|core| (core.low.min(core.high), core.low.max(core.high)));
        ends.fold((Vec3::INFINITY, Vec3::NEG_INFINITY), |a, b| (a.0.min(b.0), a.1.max(b.1)))
    }

    /// The middle of what stands lowest: of the foot's round, or of a box's bottom.
    pub fn foot(&self) -> Vec3 {
        match self {
            Cores::One([core]) => core.low,
            Cores::Four([bottom, ..]) => (bottom.low + bottom.high) * 0.5,
        }
    }

    /// The middle of it all.
    pub fn middle(&self) -> Vec3 {
        match self {
            Cores::One([core]) => (core.low + core.high) * 0.5,
            Cores::Four([bottom, .., top]) => (bottom.low + bottom.high + top.low + top.high) * 0.25,
        }
    }

    /// The point of the segments that is furthest down along a surface's `normal`; the middle of the bottom if all of it is.
    pub fn lowest_along(&self, normal: Vec3) -> Vec3 {
        let Cores::Four([Core { low, high, .. }, ..]) = *self else { return self.foot() };
        let slant = (high - low).dot(normal);
        let level = 1e-4 * (high - low).length();
        match slant {
            _ if slant > level => low,
            _ if slant < -level => high,
            _ => self.foot(),
        }
    }
}

impl core::ops::Deref for Cores {
    type Target = [Core];
    fn deref(&self) -> &[Core] {
        match self {
            Cores::One(cores) => cores,
            Cores::Four(cores) => cores,
        }
    }
}
