//! That it serves: walks over every kind of shape, judged by the geometry crate itself and against the same things as a scene of our own.

use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Character, EventKind, Intent, Modifiers, Scene, Solid, Terrain, Tick, Tuning, TuningValues, Workspace,
};
use parry3d::math::{Pose, Vector};
use parry3d::query;
use parry3d::shape::{Capsule, SharedShape};

use super::{Thing, World, vector};

/// Random numbers from a seed (SplitMix64, by Steele, Lea and Flood).
struct Dice(u64);

impl Dice {
    fn unit(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let z = (self.0 ^ (self.0 >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    fn between(&mut self, least: f64, most: f64) -> f64 {
        least + (most - least) * self.unit()
    }
}

fn tuning() -> Tuning {
    let values = TuningValues { ledge: None, climb: None, vault: None, ..*Tuning::walker().values() };
    Tuning::new(values).expect("in range")
}

pub fn all() -> Result<(), Box<dyn std::error::Error>> {
    shapes_of_every_kind()?;
    the_same_as_a_scene()?;
    Ok(())
}

/// A yard full of balls, capsules, boxes, hulls, a rolling mesh and a carousel of all of them.
fn yard(dice: &mut Dice) -> Result<World, Box<dyn std::error::Error>> {
    let mut world = World::default();
    let side = 40usize;
    let mut points = Vec::new();
    for k in 0..=side {
        for i in 0..=side {
            let (x, z) = (i as f32 - 20.0, k as f32 - 20.0);
            points.push(Vector::new(x, 0.3 * (x * 0.5).sin() * (z * 0.4).cos(), z));
        }
    }
    let corner = |i: usize, k: usize| (k * (side + 1) + i) as u32;
    let cells = (0..side).flat_map(|k| (0..side).map(move |i| (i, k)));
    let triangles = cells.flat_map(|(i, k)| {
        let (a, b, c, d) = (corner(i, k), corner(i, k + 1), corner(i + 1, k + 1), corner(i + 1, k));
        [[a, b, c], [a, c, d]]
    });
    let still = |id: u64, shape: SharedShape, place: DVec3| Thing {
        id,
        shape,
        place,
        turned: DQuat::IDENTITY,
        velocity: DVec3::ZERO,
        spin: DVec3::ZERO,
    };
    world.things.push(still(1, SharedShape::trimesh(points, triangles.collect())?, DVec3::ZERO));
    for id in 2..60 {
        let place = DVec3::new(dice.between(-15.0, 15.0), dice.between(-0.2, 0.6), dice.between(-15.0, 15.0));
        if place.length() < 3.0 {
            continue;
        }
        let size = dice.between(0.2, 1.2) as f32;
        let shape = match id % 4 {
            0 => SharedShape::ball(size),
            1 => SharedShape::capsule(Vector::ZERO, Vector::new(size, 1.0, 0.5), 0.4),
            2 => SharedShape::cuboid(size, 0.3, 0.8),
            _ => {
                let hull: Vec<Vector> = (0..14)
                    .map(|_| {
                        vector(DVec3::new(dice.between(-1.0, 1.0), dice.between(-0.6, 0.6), dice.between(-1.0, 1.0)))
                    })
                    .collect();
                SharedShape::convex_hull(&hull).ok_or("a hull")?
            }
        };
        let turned = DQuat::from_axis_angle(DVec3::Y, dice.between(0.0, 6.0));
        world.things.push(Thing { turned, ..still(id, shape, place) });
    }
    let at = |x: f32, y: f32, z: f32| Pose::from_translation(Vector::new(x, y, z));
    let carousel = SharedShape::compound(vec![
        (at(0.0, 0.4, 0.0), SharedShape::cuboid(2.0, 0.1, 2.0)),
        (at(1.5, 1.0, 0.0), SharedShape::ball(0.5)),
        (at(-1.5, 0.5, 0.0), SharedShape::capsule(Vector::ZERO, Vector::Y, 0.2)),
    ]);
    world.things.push(Thing { spin: DVec3::Y * 0.8, ..still(99, carousel, DVec3::new(6.0, 0.2, 6.0)) });
    Ok(world)
}

/// How deep a character is in the deepest of them, metres, by the geometry crate's own distances.
fn depth(world: &World, me: &Character, tuning: &Tuning) -> f32 {
    let shape = tuning.shape_in(me.stance);
    let core = Capsule::new(Vector::Y * shape.radius, Vector::Y * (shape.height - shape.radius), shape.radius * 0.25);
    let depths = world.things.iter().filter_map(|thing| {
        let q = thing.turned.as_quat();
        // Relative to the character, where single precision is exact.
        let rotation = parry3d::math::Rotation::from_xyzw(q.x, q.y, q.z, q.w);
        let pose = Pose::from_parts(vector(thing.place - me.position), rotation);
        let gap = query::distance(&Pose::IDENTITY, &core, &pose, &*thing.shape).ok()?;
        Some(shape.radius * 0.75 - gap.distance)
    });
    depths.fold(0.0, f32::max)
}

fn shapes_of_every_kind() -> Result<(), Box<dyn std::error::Error>> {
    let (tuning, modifiers, mut work) = (tuning(), Modifiers::default(), Workspace::new());
    let skin = tuning.shape().skin();
    let (mut ticks, mut deepest, mut wrong) = (0, 0.0f32, 0);
    for seed in 0..20 {
        let mut dice = Dice(seed);
        let mut world = yard(&mut dice)?;
        let rate = [15.0, 30.0, 60.0, 144.0, 240.0][seed as usize % 5];
        let mut hero = Character::spawn(&world, &tuning, [0.0, 1.0, 0.0])?;
        let mut intent = Intent::default();
        for number in 0..(20.0 * rate) as u64 {
            if dice.unit() < 1.5 / rate {
                let home = (-hero.position).as_vec3() * 0.04;
                let way = Vec3::new(dice.between(-1.0, 1.0) as f32, 0.0, dice.between(-1.0, 1.0) as f32) + home;
                intent = Intent::toward(Vec3::new(way.x, 0.0, way.z).clamp_length_max(1.0));
                if dice.unit() < 0.3 {
                    intent = intent.hold(Button::Jump);
                }
            }
            let tick = Tick { number, terrain: &world, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut hero, &intent, &[])?;
            let lost = |k: &EventKind| matches!(k, EventKind::Stuck | EventKind::TimeDropped { .. });
            wrong += outcome.events.iter().filter(|e| lost(&e.kind)).count();
            for thing in world.things.iter_mut().filter(|thing| thing.spin != DVec3::ZERO) {
                thing.turned = DQuat::from_axis_angle(DVec3::Y, 0.8 * (number + 1) as f64 / rate);
            }
            deepest = deepest.max(depth(&world, &hero, &tuning));
            ticks += 1;
        }
        assert!(hero.position.y > -1.0, "seed {seed}: fell through at {}", hero.position);
    }
    println!(
        "{ticks} ticks among shapes of every kind: at most {:.3} mm in any, the skin is {:.1} mm; {wrong} wrong",
        deepest * 1e3,
        skin * 1e3
    );
    assert!(deepest < skin && wrong == 0);
    Ok(())
}

/// Boxes, balls and capsules, held by the geometry crate and as a scene: the same walk.
fn the_same_as_a_scene() -> Result<(), Box<dyn std::error::Error>> {
    let (tuning, modifiers) = (tuning(), Modifiers::default());
    let (mut world, mut scene) = (World::default(), Scene::new());
    let mut dice = Dice(77);
    let mut both = |id: u64, shape: SharedShape, solid: Solid, place: DVec3| -> Result<(), newel::SceneError> {
        let turned = DQuat::IDENTITY;
        world.things.push(Thing { id, shape, place, turned, velocity: DVec3::ZERO, spin: DVec3::ZERO });
        scene.add(id, solid, place, turned)
    };
    let half = DVec3::new(30.0, 0.5, 30.0);
    both(1, SharedShape::cuboid(30.0, 0.5, 30.0), Solid::cuboid(-half, half)?, DVec3::Y * -0.5)?;
    for id in 2..90 {
        let place = DVec3::new(dice.between(-20.0, 20.0), dice.between(0.0, 0.5), dice.between(-20.0, 20.0));
        let size = dice.between(0.2, 1.0);
        match id % 3 {
            _ if place.length() < 2.5 => {}
            0 => both(id, SharedShape::ball(size as f32), Solid::ball(size as f32), place)?,
            1 => {
                let solid = Solid::capsule(DVec3::ZERO, DVec3::Y * size, 0.3);
                both(id, SharedShape::capsule(Vector::ZERO, vector(DVec3::Y * size), 0.3), solid, place)?;
            }
            _ => {
                let half = DVec3::new(size, 0.2, 0.7);
                both(id, SharedShape::cuboid(size as f32, 0.2, 0.7), Solid::cuboid(-half, half)?, place)?;
            }
        }
    }
    let walk = |terrain: &dyn Terrain| -> Result<Vec<DVec3>, Box<dyn std::error::Error>> {
        let (mut dice, mut work) = (Dice(5), Workspace::new());
        let mut hero = Character::spawn(terrain, &tuning, [0.0, 0.0, 0.0])?;
        let mut places = Vec::new();
        for number in 0..3600 {
            let angle = dice.between(0.0, 0.2) + (number / 60) as f64 * 2.4;
            let intent = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
            let tick = Tick { number, terrain, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
            tick.step(&mut work, &mut hero, &intent, &[])?;
            places.push(hero.position);
        }
        Ok(places)
    };
    let (foreign, own) = (walk(&world)?, walk(&scene)?);
    let apart = foreign.iter().zip(&own).map(|(a, b)| (*a - *b).length()).fold(0.0, f64::max);
    println!("a minute over the same things as a scene of our own: at most {:.4} mm apart", apart * 1e3);
    assert!(apart < 0.01);
    Ok(())
}
