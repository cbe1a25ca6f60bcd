//! A first walk: a level from a list of corners, a character on it, a second of walking, a jump.
//!
//! `cargo run -p newel --example first_walk`

use newel::{Button, EventKind, Latch, Mesh, Runner, Tuning};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // The quay of Gull Rock: a level floor, and a ramp up to the store at the far end.
    let corners = [
        [-4.0, 0.0, 4.0],
        [4.0, 0.0, 4.0],
        [4.0, 0.0, -6.0],
        [-4.0, 0.0, -6.0],
        [4.0, 2.0, -12.0],
        [-4.0, 2.0, -12.0f32],
    ];
    let level = Mesh::new(&corners, &[0, 1, 2, 0, 2, 3, 3, 2, 4, 3, 4, 5])?;
    let tuning = Tuning::heavy_explorer();
    let mut keeper = Runner::spawn(&level, &tuning, [0.0, 0.0, 3.0])?;
    let mut latch = Latch::new();

    println!(" time   ahead  height  speed  footing");
    for frame in 0..180 {
        // A real game asks its devices here: this one pushes the stick ahead and taps the jump after a second and a half.
        latch.view(0.0, 0.0).stick(0.0, 1.0).hold(Button::Jump, frame == 90);
        keeper.advance(
            1.0 / 60.0,
            &level,
            &tuning,
            |_| latch.take(),
            |tick| {
                for event in tick.events() {
                    match event.kind {
                        EventKind::Jumped { .. } => {
                            println!("{:5.2}   jumps at {:.2} m/s", event.time, event.velocity.y)
                        }
                        EventKind::Topped => println!("{:5.2}   is at the top, {:.2} m up", event.time, event.place.y),
                        EventKind::Landed { speed, .. } => println!("{:5.2}   lands at {speed:.2} m/s", event.time),
                        _ => {}
                    }
                }
            },
        )?;
        if frame % 20 == 19 {
            let hero = &keeper.character;
            let at = keeper.pose().position;
            let footing = hero.ground.support.words();
            println!("{:5.2}  {:6.2}  {:6.2}  {:5.2}  {footing}", hero.clock, 3.0 - at.z, at.y, hero.velocity.length());
        }
    }
    Ok(())
}
