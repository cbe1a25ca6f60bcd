//! Visitors on the jetty: five hundred who go to and fro and never walk through each other, and two ghosts whom nobody minds.
//!
//! `cargo run --release -p newel --example crowd`

use newel::glam::{DVec3, Vec3};
use newel::{Character, Crowd, Intent, Layers, Member, Mesh, Tuning, Who};

const GHOSTS: Layers = Layers::of(5);

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let jetty = Mesh::cuboid(DVec3::new(-40.0, -1.0, -8.0), DVec3::new(40.0, 0.0, 8.0))?;
    let tunings = [Tuning::walker()];
    let mut visitors = Vec::new();
    for i in 0..500 {
        let place = DVec3::new((i % 50) as f64 * 1.5 - 36.75, 0.0, (i / 50) as f64 * 1.5 - 6.75);
        let mut one = Member::new(Character::spawn(&jetty, &tunings[0], place)?);
        one.modifiers.who.id = i + 1;
        if i < 2 {
            one.modifiers.who = Who { on: GHOSTS, ..one.modifiers.who };
        }
        one.solid = Layers::ALL.without(GHOSTS);
        visitors.push(one);
    }
    let mut crowd = Crowd::new();
    let mut nearest = f64::INFINITY;
    for number in 0..1200 {
        for (i, one) in visitors.iter_mut().enumerate() {
            // Half of them go east, half west, and turn at the ends; nobody steps off.
            let east = (i % 2 == 0) ^ (number % 600 >= 300);
            one.intent = Intent::toward(Vec3::X * if east { 0.6 } else { -0.6 }).guarded();
        }
        crowd.step(&jetty, number, 1.0 / 60.0, &tunings, &mut visitors)?;
        let solid: Vec<DVec3> = visitors[2..].iter().map(|one| one.character.position).collect();
        let pairs = (0..solid.len()).flat_map(|i| (0..i).map(move |k| (i, k)));
        nearest = pairs.map(|(i, k)| (solid[i] - solid[k]).length()).fold(nearest, f64::min);
    }
    let twice = 2.0 * f64::from(tunings[0].shape().radius);
    println!(
        "500 visitors to and fro for twenty seconds: the nearest two ever were {nearest:.4} m apart, twice their radius is {twice} m"
    );
    assert!(nearest > twice - 1e-3, "nobody walks through anybody");
    assert!(visitors.iter().all(|one| one.character.position.y > -0.1), "and nobody falls off");
    Ok(())
}
