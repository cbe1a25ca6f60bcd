//! Closest points between a character's core and a facet or a round: the one geometric primitive.
//!
//! Sweep, overlap, ground and push-out all ask here, so they cannot disagree.
//! After Ericson, *Real-Time Collision Detection* (2005), 5.1; arranged so that needles and parallel edges only ever
//! lose accuracy along themselves, never across.

use glam::Vec3;

use crate::math::{any_square_to, direction};
use crate::shape::Core;
use crate::terrain::{Facet, Round};

/// Which part of a facet is closest.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Feature {
    /// The inside of the face.
    Face,
    /// Edge a-b, b-c or c-a (0, 1, 2), or one of its ends.
    Edge(u8),
    /// The surface of a [`Round`].
    Round,
}

/// The closest points of a core and an obstacle.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Closest {
    /// On the obstacle.
    pub on_obstacle: Vec3,
    /// From the obstacle toward the core, unit length.
    pub normal: Vec3,
    /// Between segment and obstacle; 0 where they cross.
    pub distance: f32,
    /// Which part of the obstacle it is.
    pub feature: Feature,
}

/// A distance below this part of the core's radius has no direction of its own any more.
const NO_DIRECTION: f32 = 1e-4;

impl Closest {
    /// Nothing at all, infinitely far away.
    pub const NONE: Closest =
        Closest { on_obstacle: Vec3::ZERO, normal: Vec3::ZERO, distance: f32::INFINITY, feature: Feature::Round };

    fn between(on_core: Vec3, on_obstacle: Vec3, feature: Feature) -> Closest {
        let apart = on_core - on_obstacle;
        let distance = apart.length();
        let normal = if distance > 0.0 { apart / distance } else { Vec3::ZERO };
        Closest { on_obstacle, normal, distance, feature }
    }
}

/// The closest points of `core` and `facet`.
pub(crate) fn to_facet(core: &Core, facet: &Facet) -> Closest {
    let (low, high) = (facet.height_of(core.low), facet.height_of(core.high));
    let side = if low + high < 0.0 { -1.0 } else { 1.0 };
    let crosses = low * high < 0.0;
    if crosses {
        let crossing = core.low + (core.high - core.low) * (low / (low - high));
        if is_over(facet, crossing) {
            return face(facet, crossing, 0.0, side);
        }
    }
    // On one side of the plane no point of the core is nearer to it than its nearer end: over the face, that end is
    // the answer. A core that crosses the plane beside the face may be nearer to an edge.
    let (near, near_height, far, far_height) =
        if low.abs() <= high.abs() { (core.low, low, core.high, high) } else { (core.high, high, core.low, low) };
    if !crosses && is_over(facet, near) {
        return face(facet, near, near_height, side);
    }
    let mut best = nearest_edge(core, facet);
    if crosses && near_height.abs() < best.distance && is_over(facet, near) {
        best = face(facet, near, near_height, side);
    }
    if far_height.abs() < best.distance && is_over(facet, far) {
        best = face(facet, far, far_height, side);
    }
    if best.distance < NO_DIRECTION * core.radius {
        best.normal = facet.normal * side;
    }
    best
}

/// The closest points of `core` and `round`; the distance is to its surface.
pub(crate) fn to_round(core: &Core, round: &Round) -> Closest {
    let (on_core, on_axis) = segments(core.low, core.high, round.a, round.b);
    let mut found = Closest::between(on_core, on_axis, Feature::Round);
    if found.distance < NO_DIRECTION * core.radius {
        found.normal = direction(core.high - core.low).map_or(Vec3::X, any_square_to);
    }
    found.on_obstacle = on_axis + found.normal * round.radius;
    found.distance -= round.radius;
    found
}

fn face(facet: &Facet, over: Vec3, height: f32, side: f32) -> Closest {
    Closest {
        on_obstacle: over - facet.normal * height,
        normal: facet.normal * if height == 0.0 { side } else { height.signum() },
        distance: height.abs(),
        feature: Feature::Face,
    }
}

/// True where `point` lies over the face, looking along its normal.
#[inline]
fn is_over(facet: &Facet, point: Vec3) -> bool {
    facet.edges().iter().all(|edge| edge.beyond(point) <= 0.0)
}

/// The closest of the edges that part of the core is beyond: one with all of the core on its inner side never is.
fn nearest_edge(core: &Core, facet: &Facet) -> Closest {
    let mut best: Option<(f32, Vec3, Vec3, u8)> = None;
    for (number, edge) in facet.edges().into_iter().enumerate() {
        if edge.beyond(core.low).max(edge.beyond(core.high)) < 0.0 {
            continue;
        }
        let (on_core, on_edge) = segments(core.low, core.high, edge.from, edge.to);
        let square = (on_core - on_edge).length_squared();
        if best.is_none_or(|b| square < b.0) {
            best = Some((square, on_core, on_edge, number as u8));
        }
    }
    // Over the face with both ends, as far as rounding can tell: a corner is as near as the face to within that.
    let (_, on_core, on_edge, number) = best.unwrap_or((0.0, core.low, facet.a, 0));
    Closest::between(on_core, on_edge, Feature::Edge(number))
}

/// True where the core is certainly further than `reach` from the facet: by its plane, or by one of its edges seen
/// along the plane. Far cheaper than closest points, and right for most facets about.
pub(crate) fn is_beyond(core: &Core, facet: &Facet, reach: f32) -> bool {
    let (low, high) = (facet.height_of(core.low), facet.height_of(core.high));
    let height = if low * high <= 0.0 { 0.0 } else { low.abs().min(high.abs()) - facet.uneven };
    if height > reach {
        return true;
    }
    let left = reach * reach - height * height.max(0.0);
    facet.edges().iter().any(|edge| {
        let beyond = edge.beyond(core.low).min(edge.beyond(core.high));
        beyond > 0.0 && beyond * beyond > left * edge.outward.length_squared() * 1.001
    })
}

/// The closest points of two segments (Ericson 5.1.9), each allowed to be a point.
fn segments(p1: Vec3, q1: Vec3, p2: Vec3, q2: Vec3) -> (Vec3, Vec3) {
    let (d1, d2, r) = (q1 - p1, q2 - p2, p1 - p2);
    let (a, e, f) = (d1.length_squared(), d2.length_squared(), d2.dot(r));
    let (s, t);
    if a <= 0.0 {
        s = 0.0;
        t = if e > 0.0 { (f / e).clamp(0.0, 1.0) } else { 0.0 };
    } else {
        let c = d1.dot(r);
        if e <= 0.0 {
            t = 0.0;
            s = (-c / a).clamp(0.0, 1.0);
        } else {
            let b = d1.dot(d2);
            let denominator = a * e - b * b;
            // Parallel within rounding: any point will do, and the clamping below finds its partner.
            let free = if denominator > 1e-7 * a * e { ((b * f - c * e) / denominator).clamp(0.0, 1.0) } else { 0.0 };
            let along = (b * free + f) / e;
            if along < 0.0 {
                t = 0.0;
                s = (-c / a).clamp(0.0, 1.0);
            } else if along > 1.0 {
                t = 1.0;
                s = ((b - c) / a).clamp(0.0, 1.0);
            } else {
                t = along;
                s = free;
            }
        }
    }
    (p1 + d1 * s, p2 + d2 * t)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn core(low: Vec3, high: Vec3) -> Core {
        Core { low, high, radius: 0.3 }
    }

    /// The least distance over a fine sampling of both, in double precision: slow and plainly right.
    fn brute(core: &Core, f: &Facet) -> f64 {
        let mut best = f64::INFINITY;
        let (low, high) = (core.low.as_dvec3(), core.high.as_dvec3());
        let (a, b, c) = (f.a.as_dvec3(), f.b.as_dvec3(), f.c.as_dvec3());
        let steps = 60;
        for i in 0..=steps {
            for j in 0..=steps - i {
                let (u, v) = (f64::from(i) / f64::from(steps), f64::from(j) / f64::from(steps));
                let point = a + (b - a) * u + (c - a) * v;
                let along = (high - low).dot(point - low) / (high - low).length_squared();
                best = best.min((low + (high - low) * along.clamp(0.0, 1.0) - point).length());
            }
        }
        best
    }

    fn off_segment(point: Vec3, core: &Core) -> f32 {
        let along = (core.high - core.low).dot(point - core.low) / (core.high - core.low).length_squared();
        (core.low + (core.high - core.low) * along.clamp(0.0, 1.0) - point).length()
    }

    fn point() -> impl Strategy<Value = Vec3> {
        (-2.0f32..2.0, -2.0f32..2.0, -2.0f32..2.0).prop_map(|(x, y, z)| Vec3::new(x, y, z))
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(2000))]
        #[test]
        fn the_distance_is_the_least_there_is(a in point(), b in point(), c in point(), low in point(), up in 0.1f32..2.0) {
            let Some(facet) = Facet::new(a, b, c) else { return Ok(()) };
            let core = core(low, low + Vec3::Y * up);
            let found = to_facet(&core, &facet);
            let sampled = brute(&core, &facet);
            let step = f64::from((b - a).length().max((c - a).length())) / 60.0;
            prop_assert!(f64::from(found.distance) <= sampled + 1e-5, "{} > {sampled}", found.distance);
            prop_assert!(f64::from(found.distance) >= sampled - step, "{} < {sampled}", found.distance);
            prop_assert!((found.normal.length() - 1.0).abs() < 1e-5);
            let back = found.on_obstacle + found.normal * found.distance;
            let off = if found.distance == 0.0 { 0.0 } else { off_segment(back, &core) };
            prop_assert!(off < 1e-4, "the normal leads back to the core, {off} off");
        }
    }

    #[test]
    fn needles_and_parallels_keep_their_distance() {
        let needle =
            Facet::new(Vec3::new(-50.0, 0.0, 0.0), Vec3::new(50.0, 0.0, 0.0), Vec3::new(0.0, 0.0, 1e-4)).unwrap();
        let standing = core(Vec3::new(3.0, 0.3, 0.0), Vec3::new(3.0, 1.5, 0.0));
        assert!((to_facet(&standing, &needle).distance - 0.3).abs() < 1e-6);
        let wall = Facet::new(Vec3::new(1.0, 0.0, 0.0), Vec3::new(1.0, 3.0, 0.0), Vec3::new(1.0, 0.0, 3.0)).unwrap();
        let beside = core(Vec3::new(0.0, 0.3, -0.5), Vec3::new(0.0, 1.5, -0.5));
        assert!((to_facet(&beside, &wall).distance - 1.25f32.sqrt()).abs() < 1e-6);
    }
}
