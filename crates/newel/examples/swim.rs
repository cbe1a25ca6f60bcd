//! A swim off the slipway: into the swell, a dive for as long as breath lasts, and out over a float that rides the waves of the game's own sea.
//!
//! `cargo run -p newel --example swim`

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Effect, EventKind, Heading, Latch, Ledge, Mesh, Mode, Runner, Scene, Stance, Swim, Tuning, TuningValues,
    Water, Zone,
};

/// How long the keeper can hold its breath, seconds: the game's business, not the library's.
const BREATH: f32 = 6.0;

/// The sea of this game: any function of place and time will do, as long as the picture uses the same.
fn sea(place: DVec3, time: f64) -> f64 {
    0.15 * (0.6 * place.z + 1.9 * time).sin() + 0.05 * (1.7 * place.x + 3.1 * time).sin()
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // A slipway down along -z, the bottom of the bay, and a quay whose edge is a hand's breadth over the still water.
    let across = |z: f32, y: f32| [[-9.0, y, z], [9.0, y, z]];
    let corners =
        [across(4.0, 1.0), across(-14.0, -5.0), across(-30.0, -5.0), across(-30.0, 0.1), across(-40.0, 0.1)].concat();
    let quad = |i: u32| [i, i + 1, i + 3, i, i + 3, i + 2];
    let bay = Mesh::new(&corners, &[quad(0), quad(2), quad(4), quad(6)].concat())?;

    // Up to a level of 0, waving as the game says; the box reaches as high as the waves do.
    let water = Water::flat(DVec3::ZERO, Vec3::Y).with_own_waves().flowing(Vec3::X * 0.1);
    let zone = Zone::new(7, DVec3::new(-50.0, -9.0, -60.0), DVec3::new(50.0, 1.0, 50.0), Effect::Water(water));
    let world = Scene::new().with(bay).with_zone(zone).with_waves(7, sea);

    let swim = Swim { speed: 2.5, idle: 0.4, ..Swim::default() };
    let tuning =
        Tuning::new(TuningValues { swim: Some(swim), ledge: Some(Ledge::default()), ..TuningValues::default() })?;
    let mut hero = Runner::spawn(&world, &tuning, [0.0, 0.6, 2.5])?;
    let mut latch = Latch::new();
    let (mut dived, mut gasped, mut deepest) = (false, None, 0.0f32);
    for frame in 0..60 * 40 {
        let me = *hero.character.state();
        let holds_its_breath = me.time_under < BREATH && gasped.is_none();
        dived |= me.position.z < -16.0;
        // Ahead all the time; under water a crouch dives and the jump button rises.
        let dives = dived && holds_its_breath && me.mode == Mode::Swim;
        if dived && me.time_under >= BREATH {
            gasped.get_or_insert(frame);
        }
        latch.view(0.0, 0.0).heading(Heading::View(Vec2::Y));
        latch.stance(if dives { Stance::Crouch } else { Stance::Stand }).hold(Button::Jump, gasped.is_some());
        hero.advance(
            1.0 / 60.0,
            &world,
            &tuning,
            |_| latch.take(),
            |tick| {
                deepest = deepest.max(tick.readout().water.map_or(0.0, |wet| wet.depth));
                for event in tick.events() {
                    let when = event.time;
                    match event.kind {
                        EventKind::SwimBegan => println!("{when:6.2} s: swims, {:.2} m deep", -event.place.y),
                        EventKind::WentUnder => println!("{when:6.2} s: under"),
                        EventKind::Surfaced { seconds } => println!("{when:6.2} s: up again after {seconds:.2} s"),
                        EventKind::PulledUp { height } => {
                            println!("{when:6.2} s: out over the edge, {height:.2} m over its feet")
                        }
                        _ => {}
                    }
                }
            },
        )?;
        if hero.character.mode == Mode::Ground && hero.character.position.z < -30.0 {
            break;
        }
    }
    println!("dived to {deepest:.2} m, and stands on the quay at {:.2}", hero.character.position);
    assert!(hero.character.mode == Mode::Ground && deepest > 4.0 && gasped.is_some());
    Ok(())
}
