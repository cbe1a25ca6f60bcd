//! Whether a capsule overlaps triangles, judged in double precision against all of them, sharing no code with the core.

use newel::glam::DVec3;
use newel::{Form, Scene, Shape};

/// All triangles of a scene, to be judged against.
pub(crate) struct Audit<'a> {
    scene: &'a Scene,
    triangles: Vec<[DVec3; 3]>,
    bounds: Vec<(DVec3, DVec3)>,
    /// How many of them are where they are at any time.
    stay: usize,
}

impl Audit<'_> {
    pub fn new(scene: &Scene) -> Audit<'_> {
        let mut audit = Audit { scene, triangles: Vec::new(), bounds: Vec::new(), stay: 0 };
        audit.fill(scene.solid_corners_that_stay());
        audit.stay = audit.triangles.len();
        audit.fill(scene.solid_corners_of_bodies(scene.time));
        audit
    }

    /// Makes it `time` seconds in the scene, for what moves.
    pub fn set_time(&mut self, time: f64) {
        if self.scene.is_moving() {
            self.triangles.truncate(self.stay);
            self.bounds.truncate(self.stay);
            self.fill(self.scene.solid_corners_of_bodies(time));
        }
    }

    fn fill(&mut self, corners: impl Iterator<Item = [DVec3; 3]>) {
        let from = self.triangles.len();
        self.triangles.extend(corners);
        let bounds = self.triangles[from..].iter().map(|[a, b, c]| (a.min(*b).min(*c), a.max(*b).max(*c)));
        self.bounds.extend(bounds);
    }

    /// How deep the tuned surface of a capsule is in the deepest triangle, metres; 0 where it touches none.
    pub fn depth(&self, feet: DVec3, up: DVec3, plane: DVec3, shape: &Shape) -> f64 {
        let (radius, segments) = outline(feet, up, plane, shape);
        let points = || segments.iter().flat_map(|s| [s.0, s.1]);
        let min = points().fold(DVec3::INFINITY, DVec3::min) - DVec3::splat(radius);
        let max = points().fold(DVec3::NEG_INFINITY, DVec3::max) + DVec3::splat(radius);
        let near =
            self.bounds.iter().zip(&self.triangles).filter(|((a, b), _)| a.cmple(max).all() && b.cmpge(min).all());
        let depths = near.flat_map(|(_, t)| segments.iter().map(|s| radius - segment_to_triangle(s.0, s.1, t)));
        depths.fold(0.0, f64::max)
    }
}

/// The segments of a shape, and the radius about them: one of a capsule, the four rounded sides of a box.
fn outline(feet: DVec3, up: DVec3, plane: DVec3, shape: &Shape) -> (f64, Vec<(DVec3, DVec3)>) {
    let (half, height) = (f64::from(shape.radius), f64::from(shape.height));
    if shape.form == Form::Capsule {
        return (half, vec![(feet + up * half, feet + up * (height - half))]);
    }
    let radius = 2.0 * f64::from(shape.skin());
    let middle = feet + up * (height / 2.0);
    let (along, tall) = if plane.dot(up).abs() < 0.5 {
        (up, height / 2.0 - radius)
    } else {
        let away = if up.z.abs() < 0.9 { DVec3::Z } else { DVec3::X };
        let level = away - up * away.dot(up);
        (level / level.length(), half - radius)
    };
    let (tall, wide) = (along * tall, plane.cross(along) * (half - radius));
    let ring = [middle - tall - wide, middle - tall + wide, middle + tall + wide, middle + tall - wide];
    (radius, (0..4).map(|i| (ring[i], ring[(i + 1) % 4])).collect())
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
        let (audit, shape) = (Audit::new(&scene), Shape::capsule(0.5, 2.0));
        let depth = |y: f64| audit.depth(DVec3::new(0.0, y, 0.0), DVec3::Y, DVec3::ZERO, &shape);
        assert!(depth(0.0).abs() < 1e-12 && depth(0.3) == 0.0);
        assert!((depth(-0.1) - 0.1).abs() < 1e-12);
        assert!((depth(-1.0) - 0.5).abs() < 1e-12, "its middle is in the floor");
        assert_eq!(depth(-2.5), 0.0, "below it");
    }
}
