//! Distances between segments and triangles in double precision. Shares no code with the core.

use newel::glam::DVec3;

/// The distance between a segment and a triangle, in metres.
pub(crate) fn segment_to_triangle(p: DVec3, q: DVec3, t: &[DVec3; 3]) -> f64 {
    let n = (t[1] - t[0]).cross(t[2] - t[0]);
    let inside = |x: DVec3| (0..3).all(|i| n.dot((t[(i + 1) % 3] - t[i]).cross(x - t[i])) >= 0.0);
    let (hp, hq) = (n.dot(p - t[0]), n.dot(q - t[0]));
    if hp * hq <= 0.0 && hp != hq && inside(p + (q - p) * (hp / (hp - hq))) {
        return 0.0;
    }
    let ends = [(p, hp), (q, hq)].into_iter().filter(|(end, _)| inside(*end)).map(|(_, h)| h.abs() / n.length());
    let edges = (0..3).map(|i| segment_to_segment(p, q, t[i], t[(i + 1) % 3]));
    ends.chain(edges).fold(f64::INFINITY, f64::min)
}

/// The distance between two segments: the least of the interior solution, if there is one, and of each end to the other segment.
pub(crate) fn segment_to_segment(p: DVec3, q: DVec3, a: DVec3, b: DVec3) -> f64 {
    let to_segment = |x: DVec3, from: DVec3, to: DVec3| (x - closest_on_segment(x, from, to)).length();
    let ends = to_segment(p, a, b).min(to_segment(q, a, b)).min(to_segment(a, p, q)).min(to_segment(b, p, q));
    let (u, v, w) = (q - p, b - a, p - a);
    let (uu, uv, vv, uw, vw) = (u.dot(u), u.dot(v), v.dot(v), u.dot(w), v.dot(w));
    let size = uu * vv - uv * uv;
    if size <= 1e-14 * uu * vv {
        return ends;
    }
    let (s, t) = ((uv * vw - vv * uw) / size, (uu * vw - uv * uw) / size);
    let crossing = (0.0..=1.0).contains(&s) && (0.0..=1.0).contains(&t);
    if crossing { ends.min((w + u * s - v * t).length()) } else { ends }
}

/// The point of a segment that is closest to `x`.
pub(crate) fn closest_on_segment(x: DVec3, from: DVec3, to: DVec3) -> DVec3 {
    let square = (to - from).length_squared();
    let along = if square > 0.0 { ((x - from).dot(to - from) / square).clamp(0.0, 1.0) } else { 0.0 };
    from + (to - from) * along
}

/// The point of a triangle that is closest to `x`, and whether it lies inside the triangle rather than on its rim.
pub(crate) fn closest_on_triangle(x: DVec3, t: &[DVec3; 3]) -> (DVec3, bool) {
    let n = (t[1] - t[0]).cross(t[2] - t[0]);
    if (0..3).all(|i| n.dot((t[(i + 1) % 3] - t[i]).cross(x - t[i])) > 0.0) {
        return (x - n * (n.dot(x - t[0]) / n.length_squared()), true);
    }
    let rims = (0..3).map(|i| closest_on_segment(x, t[i], t[(i + 1) % 3]));
    let nearer = |a: DVec3, b: DVec3| if (x - a).length_squared() <= (x - b).length_squared() { a } else { b };
    (rims.reduce(nearer).unwrap_or(t[0]), false)
}

/// How far along a ray from `from` a triangle is met, in lengths of `way`, from either side.
pub(crate) fn ray_to_triangle(from: DVec3, way: DVec3, t: &[DVec3; 3]) -> Option<f64> {
    let n = (t[1] - t[0]).cross(t[2] - t[0]);
    let closing = n.dot(way);
    let part = n.dot(t[0] - from) / closing;
    let at = from + way * part;
    let inside = (0..3).all(|i| n.dot((t[(i + 1) % 3] - t[i]).cross(at - t[i])) >= 0.0);
    (closing != 0.0 && part >= 0.0 && inside).then_some(part)
}
