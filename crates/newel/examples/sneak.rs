//! Keys with gestures, stances and a slide: one key to crouch, tapped twice and held to lie flat, and at a run to slide.
//!
//! `cargo run -p newel --example sneak`

use newel::{Button, EventKind, Gesture, Gestures, Gives, Latch, Mesh, Runner, Stance, Tuning};

/// The game's own numbers for its keys.
const C: u8 = 0;
const W: u8 = 1;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // A floor, and 12 m ahead a slab that leaves 1.2 m of room.
    let (floor, low, high) = (40.0, 1.2, 3.0);
    let slab = |y: f32| [[-3.0, y, -22.0], [3.0, y, -22.0], [3.0, y, -12.0], [-3.0, y, -12.0]];
    let ground = [[-floor, 0.0, -floor], [floor, 0.0, -floor], [floor, 0.0, floor], [-floor, 0.0, floor]];
    let corners: Vec<[f32; 3]> = [ground, slab(low), slab(high)].concat();
    let sides = [[4, 5, 9], [4, 9, 8], [6, 7, 11], [6, 11, 10], [5, 6, 10], [5, 10, 9], [7, 4, 8], [7, 8, 11]];
    let tops = [[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7], [8, 9, 10], [8, 10, 11]];
    let indices: Vec<u32> = tops.into_iter().chain(sides).flatten().collect();
    let level = Mesh::new(&corners, &indices)?;

    let tuning = Tuning::first_person();
    let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
    let mut latch = Latch::new();
    // Toggling is the player's choice, so it is bound here and not tuned: `Gesture::Toggle` instead of `Hold`, and it toggles.
    let mut gestures = Gestures::new()
        .bind(C, Gesture::Hold, Gives::Stance(Stance::Crouch))?
        .bind(C, Gesture::Hold, Gives::Button(Button::Slide))?
        .bind(C, Gesture::DoubleTap { within: 0.3 }, Gives::Stance(Stance::Prone))?
        .bind(W, Gesture::DoubleTap { within: 0.25 }, Gives::Button(Button::Sprint))?;

    let (frame, mut ticks) = (1.0 / 144.0, 0);
    for number in 0..930 {
        let time = f64::from(number) * frame;
        // Forward, tapped twice to sprint; the other key at a run, and let go under the slab.
        let forward = (0.1..0.18).contains(&time) || time > 0.25;
        latch.view(0.0, 0.0).stick(0.0, if time > 0.1 { 1.0 } else { 0.0 });
        gestures.key(W, forward).key(C, (1.7..3.1).contains(&time));
        hero.advance(
            frame,
            &level,
            &tuning,
            |me| gestures.fill(latch.take(), me.state(), 1.0 / 60.0),
            |tick| {
                ticks += 1;
                for event in tick.events() {
                    match event.kind {
                        EventKind::StanceChanged { to, .. } => println!("{:6.3} s  {}", event.time, to.words()),
                        EventKind::SlideBegan { speed } => println!("{:6.3} s  slides at {speed:.1} m/s", event.time),
                        EventKind::SlideEnded { distance, reason, .. } => {
                            println!("{:6.3} s  slid {distance:.2} m: {}", event.time, reason.words());
                        }
                        EventKind::NoRoom { wanted, point, .. } => {
                            println!("{:6.3} s  no room to {}: {:.2} m overhead", event.time, wanted.words(), point.y);
                        }
                        EventKind::Refused { ability, why } => {
                            println!("{:6.3} s  no {ability:?}: {}", event.time, why.words())
                        }
                        _ => {}
                    }
                }
            },
        )?;
    }
    let pose = hero.pose();
    println!(
        "after {ticks} ticks at {:.2}, eyes {:.2} m over the floor",
        pose.position,
        pose.position.y + f64::from(pose.eyes)
    );
    assert!(pose.position.z < -22.0 && hero.character.stance == Stance::Stand);
    Ok(())
}
