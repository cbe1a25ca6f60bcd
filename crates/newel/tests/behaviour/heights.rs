//! Height fields: the same land as a mesh of it, to walk on and to look at.

use crate::common::EVERYWHERE;
use crate::common::oracle::Dice;
use newel::glam::{DVec3, Vec3};
use newel::{Character, Heights, HeightsError, Intent, Mesh, Modifiers, Terrain, Tick, Tuning, When, Workspace};

const SIDE: usize = 60;

fn height(x: usize, z: usize) -> f32 {
    let (x, z) = (x as f32 * 0.5, z as f32 * 0.5);
    1.2 * (x * 0.35).sin() * (z * 0.3).cos() + 0.1 * (x * 2.1).sin()
}

/// The same land both ways, but for a hole.
fn land() -> (Heights, Mesh) {
    let corner = DVec3::new(-15.0, 2.0, -15.0);
    let hole = |x: usize, z: usize| x == 40 && z == 20;
    let field = Heights::new(corner, 0.5, SIDE, SIDE, |x, z| if hole(x, z) { f32::NAN } else { height(x, z) }).unwrap();
    let mut corners = Vec::new();
    for index in 0..SIDE * SIDE {
        let (x, z) = (index % SIDE, index / SIDE);
        let at = corner + DVec3::new(x as f64 * 0.5, f64::from(height(x, z)), z as f64 * 0.5);
        corners.push(at.to_array());
    }
    let cells = (0..SIDE - 1).flat_map(|z| (0..SIDE - 1).map(move |x| (x, z)));
    let cells = cells.filter(|(x, z)| !((*x == 40 || x + 1 == 40) && (*z == 20 || z + 1 == 20)));
    let at = |x: usize, z: usize| (z * SIDE + x) as u32;
    // What of the cells about the hole does not touch it stays.
    let about = [(39, 19), (40, 19), (39, 20), (40, 20)].into_iter();
    let both = |(x, z): (usize, usize)| {
        [[at(x, z), at(x, z + 1), at(x + 1, z + 1)], [at(x, z), at(x + 1, z + 1), at(x + 1, z)]]
    };
    let left = about.flat_map(both).filter(|t| !t.contains(&at(40, 20)));
    let indices: Vec<u32> = cells.flat_map(both).chain(left).flatten().collect();
    (field, Mesh::new(&corners, &indices).unwrap())
}

#[test]
fn a_walk_over_it_is_the_walk_over_its_mesh() {
    let (field, mesh) = land();
    let (tuning, modifiers) = (Tuning::walker(), Modifiers::default());
    let walk = |terrain: &dyn Terrain| {
        let mut work = Workspace::new();
        let start = [-10.0, field.height(-10.0, -10.0).unwrap() + 0.05, -10.0];
        let mut hero = Character::spawn(terrain, &tuning, start).unwrap();
        let mut places = Vec::new();
        for number in 0..1800 {
            let angle = (number / 90) as f32 * 1.3;
            let intent = Intent::toward(Vec3::new(angle.cos(), 0.0, angle.sin()));
            let tick = Tick { number, terrain, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
            tick.step(&mut work, &mut hero, &intent, &[]).unwrap();
            places.push(hero.position);
        }
        places
    };
    let apart = walk(&field).iter().zip(walk(&mesh)).map(|(a, b)| (*a - b).length()).fold(0.0, f64::max);
    assert!(apart < 1e-3, "{apart} m apart");
}

#[test]
fn rays_and_heights_are_those_of_its_mesh_and_a_hole_is_a_hole() {
    let (field, mesh) = land();
    let (when, mut dice, mut hits) = (When::tick(0, 0.1), Dice(9), 0);
    for _ in 0..3000 {
        let from = DVec3::new(dice.between(-20.0, 20.0), dice.between(1.0, 9.0), dice.between(-20.0, 20.0));
        let along = dice.direction().as_vec3();
        let (own, its) = (field.cast(when, from, along, 60.0), mesh.cast(when, from, along, 60.0));
        assert_eq!(own.is_some(), its.is_some(), "from {from} along {along}");
        if let (Some(own), Some(its)) = (own, its) {
            hits += 1;
            assert!(
                (own.distance - its.distance).abs() < 1e-3 && own.normal.dot(its.normal) > 0.999,
                "{own:?} {its:?}"
            );
        }
        let down = mesh.cast(when, DVec3::new(from.x, 50.0, from.z), Vec3::NEG_Y, 100.0).map(|hit| 50.0 - hit.distance);
        let height = field.height(from.x, from.z);
        assert_eq!(height.is_some(), down.is_some(), "{from}");
        assert!(height.zip(down).is_none_or(|(a, b)| (a - b).abs() < 1e-3), "{height:?} {down:?}");
    }
    assert!(hits > 500, "{hits}");
    assert_eq!(field.height(4.99, -5.01), None, "the hole");
}

#[test]
fn a_height_that_is_changed_is_the_land_from_then_on_and_nonsense_is_refused() {
    let flat = |_: usize, _: usize| 0.0;
    let mut field = Heights::new(DVec3::ZERO, 1.0, 5, 5, flat).unwrap();
    let before = field.stamp(When::tick(0, 0.1), EVERYWHERE);
    field.set(2, 2, 0.5).unwrap();
    assert!(field.height(2.0, 2.0) == Some(0.5) && field.stamp(When::tick(0, 0.1), EVERYWHERE) != before);
    let refused = field.set(2, 2, f32::INFINITY);
    assert_eq!(refused, Err(HeightsError::Height { x: 2, z: 2, height: f32::INFINITY }));
    field.set(2, 2, 0.0).unwrap();
    assert_eq!(field.stamp(When::tick(0, 0.1), EVERYWHERE), before);
    assert!(matches!(Heights::new(DVec3::ZERO, 1.0, 1, 5, flat), Err(HeightsError::Size { wide: 1, long: 5 })));
    assert!(matches!(Heights::new(DVec3::NAN, 1.0, 5, 5, flat), Err(HeightsError::Cell { .. })));
    assert!(matches!(Heights::new(DVec3::ZERO, 0.0, 5, 5, flat), Err(HeightsError::Cell { .. })));
}
