//! Click to move: the keeper goes where it is told, round what it meets askew, and says why it did not arrive.
//!
//! `cargo run -p newel --example click`

use newel::glam::DVec3;
use newel::{GoEnd, GoTo, Going, Intent, Mesh, Runner, Tuning};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // A yard, and the wall of a shed across it: 3 m to the east, 4 m long and 2.5 m high.
    let yard = [[-20.0, 0.0, -20.0], [20.0, 0.0, -20.0], [20.0, 0.0, 20.0], [-20.0, 0.0, 20.0f32]];
    let wall = [[3.0, -0.1, -2.0], [3.0, 2.5, -2.0], [3.0, 2.5, 2.0], [3.0, -0.1, 2.0f32]];
    let level = Mesh::new(&[yard, wall].concat(), &[0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7])?;
    let tuning = Tuning::heavy_explorer();
    let mut keeper = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
    let mut going = GoTo::new(Going::default());

    // When, and where to. The third click comes while it is on its way to the second.
    let clicks = [(0.0, [2.0, 0.0, -4.0]), (2.5, [-6.0, 0.0, -4.0]), (3.3, [-2.0, 0.0, 3.0]), (6.0, [6.0, 0.0, 0.0])];
    let mut waiting = clicks.into_iter().peekable();
    let frame = 1.0 / 144.0;
    for number in 0..1730 {
        let time = f64::from(number) * frame;
        if let Some((_, place)) = waiting.next_if(|(when, _)| *when <= time) {
            println!("{time:5.2} s  click at {place:?}");
            going.go(DVec3::from_array(place));
        }
        // A game would hand it the latch's intent, so that its player's buttons and stick count too.
        keeper.advance(frame, &level, &tuning, |me| going.drive(Intent::default(), me, me.last), |_| {})?;
        if let Some(end) = going.take_end() {
            let place = keeper.pose().position;
            print!("{time:5.2} s  at ({:.2}, {:.2}): {}", place.x, place.z, end.words());
            match end {
                GoEnd::Arrived { off } => println!(", {:.1} mm off", 1000.0 * off),
                GoEnd::Blocked { by, left } => println!(", {left:.2} m to go, at x = {:.2}", by.point.x),
                _ => println!(),
            }
        }
    }
    assert!((keeper.pose().position.x - 2.7).abs() < 0.1, "in the end it stands before the wall");
    Ok(())
}
