//! Five hundred characters that do not walk through each other: a terrain of one's own, made of a level and of everyone else
//! as round obstacles. How an entity-component engine would hold it: plain columns, one call for each character and tick.
//!
//! `cargo run --release -p newel --example crowd`

use newel::glam::{DVec3, Vec3};
use newel::{Character, Intent, Mesh, Modifiers, Patch, RayHit, Round, Shape, Terrain, Tick, Tuning, When, Workspace};

/// The level, and the others as they stood when the tick began.
struct Crowd<'a> {
    level: &'a Mesh,
    feet: &'a [DVec3],
    me: usize,
    shape: Shape,
}

impl Terrain for Crowd<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.level.gather(when, patch);
        let (low, high) = patch.world_bounds();
        let wide = DVec3::splat(f64::from(self.shape.radius));
        let tall = DVec3::Y * f64::from(self.shape.height);
        for (id, &feet) in self.feet.iter().enumerate() {
            let is_near = (feet - wide).cmple(high).all() && (feet + tall + wide).cmpge(low).all();
            if id == self.me || !is_near {
                continue;
            }
            // Places in a patch are relative to its origin.
            let feet = (feet - patch.origin()).as_vec3();
            patch.add_round(Round { id: id as u32, ..Round::of(&self.shape, feet, Vec3::Y) });
        }
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.level.cast(when, from, along, length)
    }
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let yard = [[-40.0, 0.0, -40.0], [-40.0, 0.0, 40.0], [40.0, 0.0, 40.0], [40.0, 0.0, -40.0f32]];
    let level = Mesh::new(&yard, &[0, 1, 2, 0, 2, 3])?;
    let tuning = Tuning::walker();
    let shape = tuning.shape();
    let modifiers = Modifiers::default();

    let place = |i: usize| DVec3::new((i % 25) as f64 * 1.2 - 15.0, 0.0, (i / 25) as f64 * 1.2 - 12.0);
    let mut crowd =
        (0..500).map(|i| Character::spawn(&level, &tuning, place(i))).collect::<Result<Vec<Character>, _>>()?;
    let mut work = Workspace::new();
    for number in 0..600 {
        // Everyone sees the others where they were: the order they move in makes no difference to what they see.
        let feet: Vec<DVec3> = crowd.iter().map(|c| c.position).collect();
        for (me, character) in crowd.iter_mut().enumerate() {
            let terrain = Crowd { level: &level, feet: &feet, me, shape };
            let tick = Tick { number, terrain: &terrain, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
            let to_the_middle = (-character.position.as_vec3()).normalize_or_zero();
            tick.step(&mut work, character, &Intent::toward(to_the_middle), &[])?;
        }
    }

    let pairs = (0..crowd.len()).flat_map(|i| (0..i).map(move |k| (i, k)));
    let apart = pairs.map(|(i, k)| (crowd[i].position - crowd[k].position).length()).fold(f64::INFINITY, f64::min);
    let wide = crowd.iter().map(|c| c.position.length()).fold(0.0, f64::max);
    println!("500 characters pressed together for ten seconds: a crowd of {wide:.1} m about its middle");
    println!("the nearest two are {apart:.3} m apart, {:.3} m is twice their radius", 2.0 * shape.radius);
    assert!(crowd.iter().all(|c| c.position.y.abs() < 1e-3), "nobody climbs on anybody");
    Ok(())
}
