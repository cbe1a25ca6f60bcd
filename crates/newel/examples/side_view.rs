//! A side view: a level drawn as a line, extruded across, and a box that keeps to the plane of the picture.
//!
//! `cargo run -p newel --example side_view`

use newel::glam::{Vec2, Vec3};
use newel::{Button, EventKind, Form, Heading, Latch, Mesh, Runner, Spawn, Tuning};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // The tower's cistern, cut open: floor, two steps, a pit, the far side.
    let line: [[f32; 2]; 9] =
        [[0.0, 4.0], [0.0, 0.0], [4.0, 0.0], [4.0, 0.3], [6.0, 0.3], [6.0, -3.0], [8.0, -3.0], [8.0, 0.3], [14.0, 0.3]];
    let corners: Vec<[f32; 3]> = line.iter().flat_map(|[x, y]| [[*x, *y, -1.0], [*x, *y, 1.0]]).collect();
    let strip = |i: u32| [2 * i, 2 * i + 1, 2 * i + 3, 2 * i, 2 * i + 3, 2 * i + 2];
    let indices: Vec<u32> = (0..line.len() as u32 - 1).flat_map(strip).collect();
    let level = Mesh::new(&corners, &indices)?;

    // A box instead of a capsule; the plane's normal points at the viewer.
    let mut values = *Tuning::brisk_hero().values();
    values.size.form = Form::Box;
    let tuning = Tuning::new(values)?;
    let start = Spawn::at([1.0, 0.0, 0.0]).in_plane(Vec3::Z).facing(Vec3::X);
    let mut keeper = Runner::spawn(&level, &tuning, start)?;

    let mut latch = Latch::new();
    for frame in 0..120 {
        // The stick to the right all the way; the jump is held from the brink of the pit on.
        let brink = keeper.character.position.x > 5.6;
        latch.heading(Heading::Plane(Vec2::X)).hold(Button::Jump, brink);
        keeper.advance(
            1.0 / 60.0,
            &level,
            &tuning,
            |_| latch.take(),
            |tick| {
                for event in tick.events() {
                    let at = format!("{:4.2} s at x {:5.2}, y {:5.2}", event.time, event.place.x, event.place.y);
                    match event.kind {
                        EventKind::Stepped { height } => println!("{at}: up a step of {height:.2} m"),
                        EventKind::Jumped { .. } => println!("{at}: jumps"),
                        EventKind::Landed { speed, .. } => println!("{at}: lands at {speed:.1} m/s"),
                        _ => {}
                    }
                }
            },
        )?;
        if frame % 30 == 29 {
            let place = keeper.character.position;
            println!("{:4.2} s: x {:5.2}, y {:5.2}", keeper.character.clock, place.x, place.y);
        }
    }
    assert_eq!(keeper.character.position.z, 0.0, "never out of its plane");
    Ok(())
}
