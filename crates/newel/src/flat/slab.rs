//! Lines of the picture, extruded across it.

use glam::{DVec2, DVec3};

use super::Scale;
use crate::terrain::{Facet, Patch};

/// How far to either side of the picture things reach, metres: further than any character does.
pub(super) const DEEP: f64 = 128.0;

/// Adds a line of the picture, in metres with y up, as a wall across it: two facets, whose normal is to the right of the way from one end to
/// the other.
pub(super) fn add_line(scale: &Scale, [from, to]: [DVec2; 2], tag: Facet, patch: &mut Patch) {
    let [a, b] = [from, to].map(|p| in_world(scale, p) - patch.origin());
    // No deeper than the box asked for, or far planes would cost precision.
    let across = scale.normal().as_dvec3();
    let (low, high) = patch.bounds();
    let reach = (low.abs().max(high.abs()).max_element() as f64 + 1.0).min(DEEP);
    let at = |p: DVec3, side: f64| (p - across * p.dot(across) + across * (side * reach)).as_vec3();
    let [p, q, r, s] = [at(a, 1.0), at(b, 1.0), at(b, -1.0), at(a, -1.0)];
    for (number, corners) in [[p, s, r], [p, r, q]].into_iter().enumerate() {
        if let Some(facet) = Facet::new(corners[0], corners[1], corners[2]) {
            let Facet { surface, one_way, id, .. } = tag;
            patch.add_facet(Facet { surface, one_way, id: id + number as u32, ..facet });
        }
    }
}

/// A spot in metres with y up, in the world.
pub(super) fn in_world(scale: &Scale, p: DVec2) -> DVec3 {
    if scale.is_top_view() { DVec3::new(p.x, 0.0, -p.y) } else { DVec3::new(p.x, p.y, 0.0) }
}

/// And back.
pub(super) fn in_picture(scale: &Scale, p: DVec3) -> DVec2 {
    if scale.is_top_view() { DVec2::new(p.x, -p.z) } else { DVec2::new(p.x, p.y) }
}
