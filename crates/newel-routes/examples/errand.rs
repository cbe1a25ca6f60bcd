//! An errand by clicks: a yard with a wall, a ditch to jump and a roof by a ladder; what cannot be is refused with its reason.
//!
//! `cargo run -p newel-routes --example errand`

use newel::glam::{DVec3, Vec3};
use newel::{Climb, Hold, Intent, Mesh, Runner, Tuning};
use newel_routes::{By, Routes, Survey, Travel, Trip};

/// Boxes by two corners, and what each is made of: a yard on both sides of a ditch, a wall, a shed, and the ladder to its roof.
const BOXES: [([f32; 3], [f32; 3], u16); 5] = [
    ([-12.0, -3.0, -8.0], [3.0, 0.0, 8.0], 0),
    ([5.0, -3.0, -8.0], [14.0, 0.0, 8.0], 0),
    ([-4.0, 0.0, -8.0], [-3.7, 2.2, 4.0], 0),
    ([9.0, 0.0, -3.0], [13.0, 2.8, 3.0], 0),
    ([8.94, 0.0, -0.3], [9.0, 2.8, 0.3], 1),
];

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let (mut corners, mut indices, mut surfaces) = (Vec::new(), Vec::new(), Vec::new());
    for (low, high, surface) in BOXES {
        let first = corners.len() as u32;
        corners.extend(
            (0..8).map(|n| core::array::from_fn(|axis| if n >> axis & 1 == 0 { low[axis] } else { high[axis] })),
        );
        for [a, b, c, d] in [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]] {
            indices.extend([a, b, c, a, c, d].map(|n| first + n));
            surfaces.extend([surface; 2]);
        }
    }
    let level = Mesh::new(&corners, &indices)?.with_surfaces(&surfaces)?.with_hold(1, Hold::Ladder);
    let mut values = *Tuning::heavy_explorer().values();
    values.climb = Some(Climb::default());
    let tuning = Tuning::new(values)?;
    let routes = Routes::new(Survey::of(&tuning), &tuning)?;
    let mut keeper = Runner::spawn(&level, &tuning, [-10.0, 0.0, -4.0])?;
    let mut trip = Trip::new(Travel::default());

    // A click is a ray from the eye; these are from straight above. The last one is into the ditch.
    for [x, z] in [[2.0, -5.0], [7.0, 5.0], [11.0, 0.0], [-8.0, 6.0], [4.0, 0.0]] {
        match routes.pick(&level, DVec3::new(x, 20.0, z), Vec3::NEG_Y) {
            Err(why) => println!("({x}, {z}): {}", why.words()),
            Ok(place) => {
                trip.go(place);
                let (mut legs, began) = (String::new(), keeper.character.clock);
                let end = loop {
                    keeper.advance(
                        1.0 / 60.0,
                        &level,
                        &tuning,
                        |me| trip.drive(Intent::default(), me, &level, &routes),
                        |_| {},
                    )?;
                    if let Some(route) = trip.route().filter(|_| legs.is_empty()) {
                        let words = route.legs.iter().map(|leg| match leg.by {
                            By::Walking(_) => "walk",
                            By::Link(kind, _) => kind.words(),
                            By::Swimming => "swim",
                        });
                        legs = words.collect::<Vec<_>>().join(", ");
                    }
                    if let Some(end) = trip.take_end() {
                        break end;
                    }
                };
                println!("({x}, {z}): {} after {:.2} s: {legs}", end.words(), keeper.character.clock - began);
            }
        }
    }
    Ok(())
}
