//! The same without the easy front: one call for each character and tick, as a server or an entity-component engine
//! makes it. Three hundred gulls' worth of keepers walk in circles over one shared level.
//!
//! `cargo run -p newel --example bare_ticks`

use newel::glam::{DVec3, Vec3};
use newel::{Character, Intent, Mesh, Mode, Modifiers, Tick, Tuning, Workspace};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let level = hills()?;
    let tuning = Tuning::walker();
    let modifiers = Modifiers::default();
    let mut keepers = (0..300)
        .map(|i| {
            Character::spawn(
                &level,
                &tuning,
                DVec3::new(f64::from(i % 20) * 2.0 - 20.0, 1.2, f64::from(i / 20) * 2.0 - 15.0),
            )
        })
        .collect::<Result<Vec<Character>, _>>()?;
    let from: Vec<DVec3> = keepers.iter().map(|k| k.position).collect();

    // One workspace a thread is enough: it holds nothing between ticks.
    let mut work = Workspace::new();
    let (mut events, mut airborne) = (0, 0);
    for number in 0..600u64 {
        let tick = Tick { number, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
        for (i, keeper) in keepers.iter_mut().enumerate() {
            let angle = number as f32 / 60.0 + i as f32;
            let intent = Intent::toward(Vec3::new(angle.cos(), 0.0, angle.sin()));
            let outcome = tick.step(&mut work, keeper, &intent, &[])?;
            events += outcome.events.len();
            airborne += usize::from(number > 60 && outcome.readout.mode == Mode::Air);
        }
    }

    let far = keepers.iter().zip(&from).map(|(k, f)| (k.position - *f).length()).fold(0.0, f64::max);
    let hash = keepers.iter().fold(0u64, |all, k| all.rotate_left(1) ^ k.hash());
    println!("300 characters, 600 ticks each: {events} events, {airborne} ticks in the air after the first second");
    println!("the one that strayed most is {far:.2} m from its start");
    println!("all their states together hash to {hash:016x}, on every machine");
    Ok(())
}

/// Gentle hills, 60 m across.
fn hills() -> Result<Mesh, newel::MeshError> {
    let side = 61u32;
    let height = |i: u32, k: u32| ((i * 7 + k * 3) % 11) as f32 * 0.05 + ((i * 5 + k * 13) % 17) as f32 * 0.03;
    let corner = |n: u32| [(n % side) as f32 - 30.0, height(n % side, n / side), (n / side) as f32 - 30.0];
    let corners: Vec<[f32; 3]> = (0..side * side).map(corner).collect();
    let cell = |n: u32| {
        let a = n / (side - 1) * side + n % (side - 1);
        [a, a + side, a + side + 1, a, a + side + 1, a + 1]
    };
    let indices: Vec<u32> = (0..(side - 1) * (side - 1)).flat_map(cell).collect();
    Mesh::new(&corners, &indices)
}
