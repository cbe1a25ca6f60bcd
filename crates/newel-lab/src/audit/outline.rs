//! How deep a placed shape is in the triangles of a world.

use newel::glam::DVec3;
use newel::{Form, Shape};

use super::distance::segment_to_triangle;
use super::surface::Surface;

/// How deep the tuned surface of a shape is in the deepest triangle, in metres; 0 where it touches none.
pub(crate) fn depth(surface: &Surface, feet: DVec3, up: DVec3, plane: DVec3, shape: &Shape) -> f64 {
    let (radius, segments) = outline(feet, up, plane, shape);
    let points = || segments.iter().flat_map(|s| [s.0, s.1]);
    let min = points().fold(DVec3::INFINITY, DVec3::min) - DVec3::splat(radius);
    let max = points().fold(DVec3::NEG_INFINITY, DVec3::max) + DVec3::splat(radius);
    let near = surface.solid_within(min, max);
    let depths = near.flat_map(|t| segments.iter().map(move |s| radius - segment_to_triangle(s.0, s.1, t)));
    depths.fold(0.0, f64::max)
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

#[cfg(test)]
mod tests {
    use super::*;
    use newel::Scene;

    #[test]
    fn depths_of_plain_cases() {
        let floor = newel::Mesh::new(&[[-5., 0., -5.], [5., 0., -5.], [0., 0., 5.0f64]], &[0, 1, 2]).unwrap();
        let surface = Surface::of(&Scene::new().with(floor));
        let shape = Shape::capsule(0.5, 2.0);
        let depth = |y: f64| depth(&surface, DVec3::new(0.0, y, 0.0), DVec3::Y, DVec3::ZERO, &shape);
        assert!(depth(0.0).abs() < 1e-12 && depth(0.3) == 0.0);
        assert!((depth(-0.1) - 0.1).abs() < 1e-12);
        assert!((depth(-1.0) - 0.5).abs() < 1e-12, "its middle is in the floor");
        assert_eq!(depth(-2.5), 0.0, "below it");
    }
}
