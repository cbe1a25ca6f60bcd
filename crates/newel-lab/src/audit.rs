//! Whether a capsule overlaps triangles, judged in double precision against all of them, sharing no code with the core.

use newel::glam::DVec3;
use newel::{Capsule, Scene};

/// All triangles of a scene, to be judged against.
pub(crate) struct Audit<'a> {
    scene: &'a Scene,
    triangles: Vec<[DVec3; 3]>,
    bounds: Vec<(DVec3, DVec3)>,
}

impl Audit<'_> {
    pub fn new(scene: &Scene) -> Audit<'_> {
        let mut audit = Audit { scene, triangles: Vec::new(), bounds: Vec::new() };
        audit.fill(scene.time);
        audit
    }

    /// Makes it `time` seconds in the scene, for what moves.
    pub fn set_time(&mut self, time: f64) {
        if self.scene.is_moving() {
            self.fill(time);
        }
    }

    fn fill(&mut self, time: f64) {
        self.triangles.clear();
        self.triangles.extend(self.scene.corners(time).map(|(corners, _)| corners));
        self.bounds.clear();
        self.bounds.extend(self.triangles.iter().map(|[a, b, c]| (a.min(*b).min(*c), a.max(*b).max(*c))));
    }

    /// How deep the tuned surface of a capsule is in the deepest triangle, metres; 0 where it touches none.
    pub fn depth(&self, feet: DVec3, up: DVec3, shape: &Capsule) -> f64 {
        let radius = f64::from(shape.radius);
        let (low, high) = (feet + up * radius, feet + up * (f64::from(shape.height) - radius));
        let (min, max) = (low.min(high) - DVec3::splat(radius), low.max(high) + DVec3::splat(radius));
        let near =
            self.bounds.iter().zip(&self.triangles).filter(|((a, b), _)| a.cmple(max).all() && b.cmpge(min).all());
        near.map(|(_, t)| radius - segment_to_triangle(low, high, t)).fold(0.0, f64::max)
    }
}

/// The distance between a segment and a triangle.
fn segment_to_triangle(p: DVec3, q: DVec3, t: &[DVec3; 3]) -> f64 {
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

/// The distance between two segments: the least of the interior solution, if there is one, and each end against the
/// other segment.
fn segment_to_segment(p: DVec3, q: DVec3, a: DVec3, b: DVec3) -> f64 {
    let to_segment = |x: DVec3, from: DVec3, to: DVec3| {
        let square = (to - from).length_squared();
        let along = if square > 0.0 { ((x - from).dot(to - from) / square).clamp(0.0, 1.0) } else { 0.0 };
        (x - (from + (to - from) * along)).length()
    };
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn depths_of_plain_cases() {
        let floor = newel::Mesh::new(&[[-5., 0., -5.], [5., 0., -5.], [0., 0., 5.0f64]], &[0, 1, 2]).unwrap();
        let scene = Scene::new().with(floor);
        let (audit, shape) = (Audit::new(&scene), Capsule { radius: 0.5, height: 2.0 });
        let depth = |y: f64| audit.depth(DVec3::new(0.0, y, 0.0), DVec3::Y, &shape);
        assert!(depth(0.0).abs() < 1e-12 && depth(0.3) == 0.0);
        assert!((depth(-0.1) - 0.1).abs() < 1e-12);
        assert!((depth(-1.0) - 0.5).abs() < 1e-12, "its middle is in the floor");
        assert_eq!(depth(-2.5), 0.0, "below it");
    }
}
