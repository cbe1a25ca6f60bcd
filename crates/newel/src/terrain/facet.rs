//! Touchable geometry of a patch: facets and rounds, local to the character.

use glam::Vec3;

use crate::shape::Shape;

/// A two-sided triangle in the coordinates of a [`Patch`](crate::Patch).
///
/// Winding is not trusted anywhere: the side that counts is the one the character is on.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Facet {
    /// First corner.
    pub a: Vec3,
    /// Second corner.
    pub b: Vec3,
    /// Third corner.
    pub c: Vec3,
    /// Unit normal, right-handed about `a`, `b`, `c`. A terrain may lend a sliver the normal of its neighbours.
    pub normal: Vec3,
    /// The plane is where `normal · point = offset`. Kept apart from the corners because it can be worked out in
    /// double precision: a corner a kilometre away is only known to a tenth of a millimetre in single.
    pub offset: f32,
    /// How far the corners may be off that plane, metres: rounding, or the lent normal of a sliver. Distances by
    /// the plane are exact to within this.
    pub uneven: f32,
    /// Which edges are real corners: bit 0 for a-b, bit 1 for b-c, bit 2 for c-a. An edge that a flat neighbour
    /// continues is none. For games and tools: ticks need none of it, two separating directions keep flat seams smooth.
    pub corners: u8,
    /// True for a floor, level or slanted, that is passed from below and stood on from above. Here winding counts: it is stood on where its
    /// normal faces up, as up is for the character; where that faces down or aside it is passed both ways.
    pub one_way: bool,
    /// Surface number: the game's own number.
    pub surface: u16,
    /// Index into the patch's bodies.
    pub body: u16,
    /// The triangle's number within its body.
    pub id: u32,
}

impl Facet {
    /// A facet on its own: every edge a real corner, surface 0, in the patch's first body.
    ///
    /// Returns `None` where the corners span no area.
    #[must_use]
    pub fn new(a: Vec3, b: Vec3, c: Vec3) -> Option<Facet> {
        // In double precision: a needle's normal is a difference of nearly equal products.
        let [p, q, r] = [a, b, c].map(|v| v.as_dvec3());
        let cross = (q - p).cross(r - p);
        let length = cross.length();
        if !(length > 0.0 && length.is_finite()) {
            return None;
        }
        let normal = (cross / length).as_vec3();
        let exact = normal.as_dvec3();
        let offset = exact.dot(p);
        let uneven = (exact.dot(q) - offset).abs().max((exact.dot(r) - offset).abs()) as f32;
        let offset = offset as f32;
        Some(Facet { a, b, c, normal, offset, uneven, corners: 7, one_way: false, surface: 0, body: 0, id: 0 })
    }

    /// The same facet carried along by a body.
    pub(crate) fn carried(&self, carry: impl Fn(Vec3) -> Vec3, turn: impl Fn(Vec3) -> Vec3) -> Facet {
        let normal = turn(self.normal);
        // The point of the plane that the offset is known best at: nearest to the origin of the patch.
        let offset = carry(self.normal * self.offset).as_dvec3().dot(normal.as_dvec3()) as f32;
        let (a, b, c) = (carry(self.a), carry(self.b), carry(self.c));
        let rounding = 2.5e-7 * a.abs().max(b.abs()).max(c.abs()).max_element();
        Facet { a, b, c, normal, offset, uneven: self.uneven + rounding, ..*self }
    }

    /// The three edges a-b, b-c and c-a.
    pub(crate) fn edges(&self) -> [Edge; 3] {
        let edge = |from: Vec3, to: Vec3| Edge { from, to, outward: (to - from).cross(self.normal) };
        [edge(self.a, self.b), edge(self.b, self.c), edge(self.c, self.a)]
    }

    /// How far `point` is in front of the plane (negative behind it).
    #[must_use]
    pub fn height_of(&self, point: Vec3) -> f32 {
        self.normal.dot(point) - self.offset
    }

    /// The least and the greatest corner of its bounds.
    #[must_use]
    pub fn bounds(&self) -> (Vec3, Vec3) {
        (self.a.min(self.b).min(self.c), self.a.max(self.b).max(self.c))
    }
}

/// One edge of a facet, with the direction along the plane that leads out over it; as long as the edge.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Edge {
    pub from: Vec3,
    pub to: Vec3,
    pub outward: Vec3,
}

impl Edge {
    /// How far a point is beyond the edge, times the edge's length; negative on the face's side.
    #[inline]
    pub fn beyond(&self, point: Vec3) -> f32 {
        self.outward.dot(point - self.from)
    }
}

/// A round obstacle: a segment (or a point, where both ends agree) with a radius. Another character, a ball, a pole.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Round {
    /// One end of the segment, in the coordinates of the patch.
    pub a: Vec3,
    /// The other end.
    pub b: Vec3,
    /// Radius about the segment, in metres.
    pub radius: f32,
    /// Surface number: the game's own number.
    pub surface: u16,
    /// Index into the patch's bodies.
    pub body: u16,
    /// Its number within its body.
    pub id: u32,
}

impl Round {
    /// A character's shape as an obstacle to others: a capsule, or the round that fits in a box, with its `feet` in the
    /// coordinates of the patch and `up` a unit vector. Surface 0, in the patch's first body.
    ///
    /// ```
    /// use newel::{Round, Tuning, glam::Vec3};
    /// let shape = Tuning::walker().shape();
    /// let other = Round { id: 7, ..Round::of(&shape, Vec3::new(2.0, 0.0, 0.0), Vec3::Y) };
    /// assert_eq!(other.bounds().0.y, 0.0);
    /// assert_eq!(other.bounds().1.y, shape.height);
    /// ```
    #[must_use]
    pub fn of(shape: &Shape, feet: Vec3, up: Vec3) -> Round {
        let radius = shape.radius.min(0.5 * shape.height);
        let (a, b) = (feet + up * radius, feet + up * (shape.height - radius));
        Round { a, b, radius, surface: 0, body: 0, id: 0 }
    }

    /// The least and the greatest corner of its bounds.
    #[must_use]
    pub fn bounds(&self) -> (Vec3, Vec3) {
        let reach = Vec3::splat(self.radius);
        (self.a.min(self.b) - reach, self.a.max(self.b) + reach)
    }
}
