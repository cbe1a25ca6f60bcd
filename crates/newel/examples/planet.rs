//! A small planet, walked all the way round by heading alone; and a wave that throws exactly onto a gallery, in a gale.
//!
//! `cargo run -p newel --example planet`

use std::f64::consts::{PI, TAU};

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Aim, Command, Effect, Event, EventKind, Heading, Intent, Latch, Launch, Mesh, Mode, Modifiers, Pull, Runner, Scene,
    Spawn, Tuning, Wind, Zone,
};

const RADIUS: f64 = 6.0;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // Everything within 30 m falls toward the planet's middle.
    let pull = Effect::Pull(Pull::Point { middle: DVec3::ZERO, strength: 1.0 });
    let planet = Scene::new().with(ball()?).with_zone(Zone::new(1, DVec3::splat(-30.0), DVec3::splat(30.0), pull));
    let tuning = Tuning::walker();
    let mut hero = Runner::spawn(&planet, &tuning, Spawn::at([0.0, RADIUS, 0.0]))?;
    let mut latch = Latch::new();

    // Straight ahead, as the body looks: it comes back to where it began from the other side.
    let (mut furthest, mut back) = (0.0f64, None);
    for frame in 0..1200 {
        // The player's yaw and pitch are told against whatever is up by now; here the body's own heading is enough.
        latch.follow(hero.character.up).heading(Heading::Body(Vec2::Y));
        hero.advance(1.0 / 60.0, &planet, &tuning, |_| latch.take(), |_| {})?;
        let away = hero.character.position.distance(DVec3::Y * RADIUS);
        furthest = furthest.max(away);
        if furthest > 1.9 * RADIUS && away < 0.1 {
            back = Some(f64::from(frame) / 60.0);
            break;
        }
    }
    let lap = back.ok_or("it never came back")?;
    println!("once round in {lap:.1} s: {furthest:.2} m away on the far side, and never off the ground");
    assert!(hero.character.mode == Mode::Ground);

    // On level ground a wave throws it onto a gallery 3 m up, against a gale, and lands it there exactly: drag and wind are reckoned with.
    let slab = |y: f32, x: f32| [[x - 2.0, y, -2.0], [x + 2.0, y, -2.0], [x + 2.0, y, 2.0], [x - 2.0, y, 2.0]];
    let corners = [slab(0.0, 0.0), slab(3.0, 7.0)].concat();
    let level = Mesh::new(&corners, &[0, 2, 1, 0, 3, 2, 4, 6, 5, 4, 7, 6])?;
    let gale = Effect::Wind(Wind::steady(Vec3::X * -12.0));
    let jetty = Scene::new().with(level).with_zone(Zone::new(1, DVec3::splat(-90.0), DVec3::splat(90.0), gale));
    let mut values = *Tuning::walker().values();
    values.air.drag = 0.2;
    let tuning = Tuning::new(values)?;
    let mut hero = Runner::spawn(&jetty, &tuning, [0.0, 0.0, 0.0])?;
    // A tick to feel the wind; then thrown.
    hero.advance(1.0 / 60.0, &jetty, &tuning, |_| Intent::default(), |_| {})?;
    let gallery = DVec3::new(6.5, 3.0, 0.0);
    let throw = Launch::onto(gallery, Aim::Least, 20.0, &hero.character, &tuning, &Modifiers::default())?;
    hero.command(Command::from(throw));
    let mut landed = None;
    for _ in 0..120 {
        let note = |event: &Event| matches!(event.kind, EventKind::Landed { .. }).then_some(event.place);
        hero.advance(
            1.0 / 60.0,
            &jetty,
            &tuning,
            |_| Intent::default(),
            |tick| {
                landed = landed.or_else(|| tick.events().iter().find_map(note));
            },
        )?;
    }
    let landed: DVec3 = landed.ok_or("it never landed")?;
    let off = landed.distance(gallery);
    println!(
        "thrown at {:.2} m/s against the wind, landed {:.3} mm from where it was meant to",
        throw.velocity.length(),
        off * 1e3
    );
    assert!(off < 1e-3);
    Ok(())
}

/// A ball of facets half a metre wide.
fn ball() -> Result<Mesh, newel::MeshError> {
    let rings = (PI * RADIUS / 0.5).round() as u32;
    let around = 2 * rings;
    let point = |ring: u32, step: u32| {
        let (polar, part) = (PI * f64::from(ring) / f64::from(rings), TAU * f64::from(step) / f64::from(around));
        (DVec3::new(polar.sin() * part.cos(), polar.cos(), polar.sin() * part.sin()) * RADIUS).as_vec3()
    };
    let corners: Vec<Vec3> = (0..=rings).flat_map(|ring| (0..around).map(move |step| point(ring, step))).collect();
    let at = |ring: u32, step: u32| ring * around + step % around;
    let quads = (0..rings).flat_map(|ring| (0..around).map(move |step| (ring, step)));
    let triangles = quads
        .flat_map(|(r, s)| [[at(r, s), at(r, s + 1), at(r + 1, s + 1)], [at(r, s), at(r + 1, s + 1), at(r + 1, s)]]);
    // At the poles a quad is a triangle: what has no area is left out.
    let real = triangles.filter(|t| {
        let [a, b, c] = t.map(|i| corners[i as usize]);
        (b - a).cross(c - a).length() > 1e-6
    });
    let indices: Vec<u32> = real.flatten().collect();
    let corners: Vec<[f32; 3]> = corners.iter().map(|c| c.to_array()).collect();
    Mesh::new(&corners, &indices)
}
