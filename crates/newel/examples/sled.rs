//! A game's own mode on the ground: a sled. The keeper's niece gets on at the top of Gull Rock, goes down the snow as fast as the slope
//! makes her, flies off the lip at its foot, lands, and gets off where it comes to a stop.
//!
//! `cargo run -p newel --example sled`

use newel::glam::Vec3;
use newel::{
    Button, Character, CustomMode, EventKind, Fingerprint, Fingerprinted, Intent, Mesh, Mode, ModeCx, Next, Runner,
    Spawn, Tuning,
};

/// What the snow takes from the speed, m/s², and how strongly a heading steers, m/s².
const DRAG: f64 = 2.0;
const STEERS: f64 = 4.0;
/// When she gets on, and until when she steers, seconds.
const RUNS: f64 = 2.0 / 3.0;
const STEERS_UNTIL: f64 = 3.0;
/// Slower than this, m/s, the ride is over.
const STOPS: f64 = 0.5;

/// The sled: seconds on the snow, and in the air.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
struct Sled {
    on_snow: f64,
    in_air: f64,
}

impl CustomMode for Sled {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        cx.pressed(Button::Slide) && cx.state().is_on_ground()
    }

    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        let (velocity, span) = (cx.velocity(), cx.span());
        cx.look(velocity.as_vec3());
        let Some(ground) = cx.ground() else {
            // On the snow again? Then from here on along it; else it falls.
            if cx.walk(velocity, 0.0) {
                self.on_snow += span;
            } else {
                self.in_air += span;
                cx.accelerate(cx.gravity());
                cx.slide();
            }
            return Next::Stay;
        };
        if velocity.length() < STOPS && self.on_snow > 1.0 {
            return Next::Leave;
        }
        // Down the slope, less what the snow takes; and aside by the heading.
        let normal = ground.normal.as_dvec3();
        let downhill = cx.gravity() - normal * cx.gravity().dot(normal);
        let way = velocity.try_normalize().unwrap_or_default();
        let heading = cx.heading().as_dvec3();
        let aside = heading - way * heading.dot(way);
        let rate = downhill + aside * STEERS - way * DRAG;
        // Toward the velocity at the end of this piece, by just the rate that gets there.
        cx.walk(velocity + rate * span, rate.length());
        self.on_snow += span;
        Next::Stay
    }
}

impl Fingerprinted for Sled {
    fn feed(&self, print: &mut Fingerprint) {
        print.f64(self.on_snow);
        print.f64(self.in_air);
    }
}

/// A slope of 20 degrees, 30 m long, that ends in a lip, a metre over the beach.
fn gull_rock() -> Result<Mesh, Box<dyn std::error::Error>> {
    let outline = [[-8.0, 12.0], [0.0, 12.0], [30.0, 1.1], [34.0, 1.0], [34.0, 0.0], [150.0, 0.0f32]];
    let corners: Vec<[f32; 3]> = outline.iter().flat_map(|[x, y]| [[*x, *y, -20.0], [*x, *y, 20.0]]).collect();
    let strips = (0..outline.len() as u32 - 1).map(|k| 2 * k);
    let triangles: Vec<u32> = strips.flat_map(|a| [a, a + 1, a + 3, a, a + 3, a + 2]).collect();
    Ok(Mesh::new(&corners, &triangles)?)
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let (level, tuning) = (gull_rock()?, Tuning::walker());
    let mut ends = Vec::new();
    for rate in [30.0, 144.0] {
        let niece = Character::spawn_with(&level, &tuning, Spawn::at([-3.0, 12.0, 0.0]), Sled::default())?;
        let mut niece = Runner::new(niece).with_rate(rate)?;
        let mut told = Vec::new();
        // She runs, gets on at two thirds of a second, and bends to the left until three: at just these times at any tick rate.
        let player = |me: &newel::Before<'_, Sled>| match me.clock + 1e-9 {
            ..RUNS => Intent::toward(Vec3::X),
            ..STEERS_UNTIL => Intent::toward(Vec3::NEG_Z * 0.1).hold(Button::Slide),
            _ => Intent::default(),
        };
        let mut fastest = 0.0f64;
        for _ in 0..60 * 30 {
            let on_tick = |tick: &newel::Ticked<'_, Sled>| told.extend(tick.events().iter().copied());
            niece.advance(1.0 / 60.0, &level, &tuning, player, on_tick)?;
            fastest = fastest.max(niece.character.velocity.length());
        }
        for event in &told {
            let what = match event.kind {
                EventKind::CustomBegan => "gets on",
                EventKind::CustomEnded => "gets off",
                EventKind::LeftGround { .. } => "flies off the lip",
                _ => continue,
            };
            println!("{:5.2} s  {what:18} at x {:6.2} m, {:6.2} m up", event.time, event.place.x, event.place.y);
        }
        let Sled { on_snow, in_air } = *niece.character.custom();
        println!(
            "{rate} ticks a second: {on_snow:.2} s on the snow, {in_air:.2} s in the air, {fastest:.1} m/s at most"
        );
        println!("she stands at x {:.3} m\n", niece.character.position.x);
        assert!(niece.character.mode == Mode::Ground && in_air > 0.2 && fastest > 10.0);
        ends.push(niece.character.position);
    }
    assert!(ends[0].distance(ends[1]) < 1e-6, "{ends:?}");
    Ok(())
}
