//! Water in odd places: moving, sideways, round, low, seen from the side and from above; and pools at random.

use std::sync::atomic::{AtomicU64, Ordering};
use std::thread;

use crate::common::oracle::Dice;
use crate::common::scenes::{Ascent, carriers};
use crate::common::{SIX_RATES, World, sample};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Command, Effect, EventKind, Face, Heading, Intent, Launch, LowStance, Mode, Modifiers, Pull,
    Scene, Spawn, Stance, Steers, Submerged, Swell, Swim, Tick, Tuning, TuningValues, Water, WaterSurface, Workspace,
    Zone,
};

const FLOATS: f64 = 0.85 * 1.8;

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

fn swim(values: &mut TuningValues) -> &mut Swim {
    values.swim.get_or_insert_with(Swim::default)
}

/// A tub with walls up to 3.2 m, open at the top, about the origin of its own axes.
fn tub() -> World {
    World::new()
        .block([-2.5, -0.5, -2.5], [2.5, 0.0, 2.5])
        .block([-2.5, 0.0, -2.5], [-2.0, 3.2, 2.5])
        .block([2.0, 0.0, -2.5], [2.5, 3.2, 2.5])
        .block([-2.0, 0.0, -2.5], [2.0, 3.2, -2.0])
        .block([-2.0, 0.0, 2.0], [2.0, 3.2, 2.5])
}

#[test]
fn in_a_tub_on_a_lift_and_on_a_carousel_it_floats_at_its_line_and_keeps_its_place() {
    for (what, track) in carriers() {
        for rate in SIX_RATES {
            let water = Water::flat(DVec3::Y * 3.0, Vec3::Y);
            let zone = Zone::new(3, DVec3::new(-2.0, 0.0, -2.0), DVec3::new(2.0, 3.2, 2.0), Effect::Water(water));
            let scene = Scene::new().with_moving(7, tub().mesh(), track.clone()).with_zone_on(7, zone);
            let mut bath = Ascent::new(scene, tuned(|_| {}), [1.0, 3.0 - FLOATS, 0.5]);
            // It begins at rest in what moves already.
            bath.until(12.0, rate, Intent::default());
            let start = bath.hero.clock;
            let (place, turned) = track.pose(start);
            let local = turned.conjugate() * (bath.hero.position - place);
            for number in 0..600 {
                bath.until(start + f64::from(number + 1) / 20.0, rate, Intent::default());
                let (place, turned) = track.pose(bath.hero.clock);
                let off = turned.conjugate() * (bath.hero.position - place) - local;
                assert!(off.length() < 1e-4, "{what} at {rate} Hz after {} s: {off}", bath.hero.clock);
            }
            let told = |k: &EventKind| !matches!(k, EventKind::SwimBegan);
            assert!(bath.events.iter().all(|e| !told(&e.kind)), "{what} at {rate} Hz: {:?}", bath.events);
            bath.until(start + 31.0, rate, Intent::toward(Vec3::X));
            bath.until(start + 40.0, rate, Intent::default());
            let (place, turned) = track.pose(bath.hero.clock);
            let at: DVec3 = turned.conjugate() * (bath.hero.position - place);
            assert!((at.y - local.y).abs() < 1e-3 && (at - local).length() > 0.3, "{what} at {rate} Hz: {at}");
        }
    }
}

#[test]
fn water_under_any_gravity_is_swum_in_alike() {
    let runs = [Vec3::Y, Vec3::X, Vec3::NEG_Y, Vec3::new(0.36, -0.48, 0.8)].map(|up| {
        let out = up.as_dvec3();
        let aside = if up.x.abs() < 0.9 { DVec3::X } else { DVec3::Z };
        let ahead = aside - out * aside.dot(out);
        let ahead = ahead / ahead.length();
        let ground = World::new().plane(out * -9.0, out, 80.0);
        let (min, max) = (DVec3::splat(-60.0), DVec3::splat(60.0));
        let scene = Scene::new().with(ground.mesh()).with_zone(Zone::new(
            1,
            min,
            max,
            Effect::Water(Water::flat(DVec3::ZERO, up)),
        ));
        let tuning = tuned(|_| {});
        let hero = Character::spawn(&scene, &tuning, Spawn::at(out * 2.0).up(up)).expect("a place");
        let mut fall = Ascent { hero, ..Ascent::new(scene, tuning, [0.0, 0.0, 0.0]) };
        fall.until(4.0, 60.0, Intent::default());
        fall.until(6.0, 60.0, Intent::toward(ahead.as_vec3()));
        fall.until(30.0, 60.0, Intent::default());
        let splash = fall.when(|k| matches!(k, EventKind::Splashed { .. })).expect("a splash");
        (fall.hero.position.dot(out), fall.hero.position.dot(ahead), splash.time, fall.events.len())
    });
    for (height, gone, splash, events) in runs {
        assert!((height + FLOATS).abs() < 1e-3 && (gone - runs[0].1).abs() < 1e-3, "{runs:?}");
        assert!((splash - runs[0].2).abs() < 1e-6 && events == runs[0].3, "{runs:?}");
    }
}

#[test]
fn round_the_sea_of_a_planet() {
    for rate in SIX_RATES {
        let core = World::new().block([-5.0; 3], [5.0; 3]).mesh();
        let sea = Water::up_to(WaterSurface::Round { middle: DVec3::ZERO, radius: 30.0 });
        let pull = Effect::Pull(Pull::Point { middle: DVec3::ZERO, strength: 1.0 });
        let all = |id, effect| Zone::new(id, DVec3::splat(-60.0), DVec3::splat(60.0), effect);
        let scene = Scene::new().with(core).with_zone(all(1, pull)).with_zone(all(2, Effect::Water(sea)));
        let mut swim = Ascent::new(scene, tuned(|v| v.turn.righting = 720.0), [0.0, 33.0, 0.0]);
        swim.until(30.0, rate, Intent::default());
        let ahead = Intent::new(Heading::Body(Vec2::Y)).facing(Face::Nothing);
        // It turns about its middle, which so goes further than its feet.
        let middle = |hero: &Character| hero.position + hero.up.as_dvec3() * 0.9;
        let (mut gone, mut last) = (0.0, middle(&swim.hero));
        while swim.hero.clock < 90.0 - 1e-9 {
            let next = swim.hero.clock + 0.05;
            swim.until(next, rate, ahead);
            let height = swim.hero.position.length();
            // Going round, it is a little lighter; and as it sets out it swings past that.
            let lighter = 2.2f64.powi(2) / height / (swim.tuning.falling_gravity() / FLOATS);
            let off = height - (30.0 - FLOATS);
            assert!(off > -1e-3 && off < 1.5 * lighter, "{rate} Hz: {off} {lighter}");
            gone += (middle(&swim.hero) - last).length();
            last = middle(&swim.hero);
        }
        assert!((gone - 2.2 * 60.0).abs() < 1.0, "{rate} Hz: {gone}");
        assert!(swim.hero.position.normalize().dot(DVec3::Y) < 0.9999);
    }
}

#[test]
fn under_a_low_ceiling_it_fits_where_a_crouch_does_and_stands_up_behind() {
    for rate in SIX_RATES {
        for under in [Submerged::Stand, Submerged::Crouch] {
            // A tunnel 1.3 m high from 2 to 6 m, its roof 1.5 m under the surface.
            let world = World::new().floor(60.0, -2.8).block([2.0, -1.5, -9.0], [6.0, 2.0, 9.0]);
            let (min, max) = (DVec3::splat(-50.0), DVec3::new(50.0, 1.0, 50.0));
            let scene = Scene::new().with(world.mesh());
            let scene = scene.with_zone(Zone::new(1, min, max, Effect::Water(Water::flat(DVec3::ZERO, Vec3::Y))));
            let tuning = tuned(|v| (swim(v).under, swim(v).idle) = (under, 0.0));
            let mut dive = Ascent::new(scene, tuning, [-2.0, -FLOATS, 0.0]);
            dive.until(2.5, rate, Intent::default().in_stance(Stance::Crouch));
            dive.until(8.0, rate, Intent::toward(Vec3::X));
            let place = dive.hero.position;
            assert_eq!(place.x > 7.0, under == Submerged::Crouch, "{rate} Hz {under:?}: {place}");
            dive.until(9.5, rate, Intent::default().hold(Button::Jump));
            dive.until(20.0, rate, Intent::default());
            if under == Submerged::Crouch {
                assert!(
                    dive.hero.stance == Stance::Stand && (dive.hero.position.y + FLOATS).abs() < 0.01,
                    "{:?}",
                    dive.hero.state()
                );
                let changes = dive.events.iter().filter(|e| matches!(e.kind, EventKind::StanceChanged { .. })).count();
                assert_eq!(changes, 2, "{rate} Hz: {:?}", dive.events);
                assert!(
                    dive.hero.time_under == 0.0
                        && dive.when(|k| matches!(k, EventKind::Surfaced { seconds } if *seconds > 3.0)).is_some()
                );
            }
        }
    }
}

#[test]
fn the_readout_tells_of_the_water() {
    let swell = Swell { along: Vec3::X, height: 0.6, length: 10.0, period: 4.0, since: 0.0 };
    let water = Water::flat(DVec3::ZERO, Vec3::Y).flowing(Vec3::Z * 0.5).with_swell(swell);
    let (min, max) = (DVec3::splat(-50.0), DVec3::new(50.0, 1.0, 50.0));
    let scene = Scene::new().with(World::new().floor(60.0, -9.0).mesh());
    let scene = scene.with_zone(Zone::new(1, min, max, Effect::Water(water)));
    let (tuning, modifiers) = (tuned(|_| {}), Modifiers::default());
    let mut hero = Character::spawn(&scene, &tuning, [0.0, -FLOATS, 0.0]).unwrap();
    let mut work = Workspace::new();
    let dive = Intent::default().in_stance(Stance::Crouch);
    for number in 0..600 {
        let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
        let intent = if number < 300 { Intent::default() } else { dive };
        let wet = tick.step(&mut work, &mut hero, &intent, &[]).unwrap().readout.water.expect("wet");
        let surface = swell.lift(hero.position, hero.clock);
        assert!(
            (wet.surface.y - surface).abs() < 2e-3 && (wet.surface.x - hero.position.x).abs() < 1e-9,
            "{wet:?} {surface}"
        );
        assert!((f64::from(wet.depth) - (surface - hero.position.y)).abs() < 2e-3);
        let slope = (swell.lift(hero.position + DVec3::X * 0.01, hero.clock) - surface) / 0.01;
        assert!((f64::from(-wet.normal.x / wet.normal.y) - slope).abs() < 5e-3, "{} {slope}", wet.normal);
        assert!(number < 2 || (wet.current - Vec3::Z * 0.5).length() < 1e-2);
        assert_eq!(wet.under, wet.time_under > 0.0 || hero.marks.under_water());
    }
    assert!(hero.time_under > 3.0);
}

#[test]
fn flat_worlds_have_water_too() {
    for rate in SIX_RATES {
        let world = World::new().floor(60.0, -9.0);
        let (min, max) = (DVec3::splat(-50.0), DVec3::new(50.0, 1.0, 50.0));
        let water = |up: Vec3| {
            Zone::new(1, min, max, Effect::Water(Water::flat(DVec3::ZERO, up).flowing(Vec3::new(0.4, 0.0, 0.4))))
        };
        // From the side: up on the stick is up, and nothing leaves the plane.
        let scene = Scene::new().with(world.mesh()).with_zone(water(Vec3::Y));
        let tuning = tuned(|v| swim(v).idle = 0.0);
        let hero = Character::spawn(&scene, &tuning, Spawn::at([0.0, -4.0, 0.0]).in_plane(Vec3::Z)).unwrap();
        let mut side = Ascent { hero, ..Ascent::new(scene, tuning, [0.0, -4.0, 0.0]) };
        side.until(2.0, rate, Intent::new(Heading::Plane(Vec2::new(0.6, -0.8))));
        assert!(
            side.hero.position.y < -6.0 && side.hero.position.x > 2.0 && side.hero.position.z == 0.0,
            "{}",
            side.hero.position
        );
        side.until(14.0, rate, Intent::new(Heading::Plane(Vec2::Y)));
        assert!((side.hero.position.y + FLOATS).abs() < 1e-3 && side.hero.position.z == 0.0, "{}", side.hero.position);
        // From above: deep water is swum in, as deep as it is.
        let deep = Zone::new(
            1,
            DVec3::new(2.0, -9.0, -9.0),
            DVec3::new(9.0, 3.0, 9.0),
            Effect::Water(Water::flat(DVec3::Y * 2.0, Vec3::Y)),
        );
        let scene = Scene::new().with(World::new().floor(60.0, -9.0).mesh()).with_zone(deep);
        let above = Tuning::top_view();
        let hero = Character::spawn(&scene, &above, Spawn::at([0.0, 0.0, 0.0]).in_plane(Vec3::Y)).unwrap();
        let mut top = Ascent { hero, ..Ascent::new(scene, above, [0.0, 0.0, 0.0]) };
        top.until(8.0, rate, Intent::toward(Vec3::X));
        let modes: Vec<_> =
            top.events.iter().filter(|e| matches!(e.kind, EventKind::SwimBegan | EventKind::SwimEnded)).collect();
        assert!(
            modes.len() == 2 && top.hero.mode == Mode::Ground && top.hero.position.y == 0.0,
            "{rate} Hz: {:?}",
            top.events
        );
        assert!((modes[0].place.x - 2.0).abs() < 0.06 && (modes[1].place.x - 9.0).abs() < 0.06, "{rate} Hz: {modes:?}");
    }
}

/// Waves of the game's own making.
#[test]
fn any_function_of_place_and_time_is_a_surface() {
    let wave = |place: DVec3, time: f64| 0.2 * (0.5 * place.z + 0.9 * time).sin() + 0.1 * (1.3 * time).cos();
    for rate in SIX_RATES {
        let (min, max) = (DVec3::splat(-50.0), DVec3::new(50.0, 1.0, 50.0));
        let water = Water::flat(DVec3::ZERO, Vec3::Y).with_own_waves();
        let scene = Scene::new().with(World::new().floor(60.0, -9.0).mesh()).with_waves(1, wave);
        let scene = scene.with_zone(Zone::new(1, min, max, Effect::Water(water)));
        let mut swim = Ascent::new(scene, tuned(|_| {}), [0.0, 0.1 - FLOATS, 0.0]);
        swim.until(8.0, rate, Intent::default());
        while swim.hero.clock < 20.0 {
            let next = swim.hero.clock + 0.05;
            swim.until(next, rate, Intent::toward(Vec3::Z));
            let off = swim.hero.position.y + FLOATS - wave(swim.hero.position, swim.hero.clock);
            assert!(off.abs() < 5e-3, "{rate} Hz: {off}");
        }
    }
}

/// A room with pools, shafts, ceilings, ledges and currents, and whoever is thrown into it.
struct Pools {
    world: World,
    zones: Vec<Zone>,
    tuning: Tuning,
    deep: f64,
}

impl Pools {
    fn new(dice: &mut Dice) -> Pools {
        let deep = dice.between(0.4, 7.0);
        let mut world = World::new().block([-8.0, -deep - 1.0, -8.0], [8.0, -deep, 8.0]);
        // Walls, and a roof that may be low.
        let roof = [9.0, dice.between(0.05, 2.5)][dice.pick(2)];
        for (min, max) in [
            ([-9.0, -9.0, -9.0], [-8.0, 10.0, 9.0]),
            ([8.0, -9.0, -9.0], [9.0, 10.0, 9.0]),
            ([-8.0, -9.0, -9.0], [8.0, 10.0, -8.0]),
            ([-8.0, -9.0, 8.0], [8.0, 10.0, 9.0]),
            ([-8.0, roof, -8.0], [8.0, 10.0, 8.0]),
        ] {
            world = world.block(min, max);
        }
        for _ in 0..dice.pick(7) {
            let (x, z) = (dice.between(-8.0, 7.0), dice.between(-8.0, 7.0));
            let low = [-deep, dice.between(-deep, 1.0)][dice.pick(2)];
            let size = DVec3::new(dice.between(0.1, 5.0), dice.between(0.1, 4.0), dice.between(0.1, 5.0));
            world = world.block([x, low, z], [x + size.x, low + size.y, z + size.z]);
        }
        if dice.pick(2) == 0 {
            let angle = dice.between(0.05, 0.9);
            world = world.plane(DVec3::new(0.0, -deep, 0.0), DVec3::new(-angle.sin(), angle.cos(), 0.0), 9.0);
        }
        let mut zones = Vec::new();
        for id in 0..1 + dice.pick(3) as u64 {
            let level = if id == 0 { 0.0 } else { dice.between(-deep, 1.0) };
            let half = if id == 0 {
                DVec3::splat(20.0)
            } else {
                DVec3::new(dice.between(0.5, 8.0), 20.0, dice.between(0.5, 8.0))
            };
            let middle = if id == 0 {
                DVec3::ZERO
            } else {
                DVec3::new(dice.between(-8.0, 8.0), level - 20.0, dice.between(-8.0, 8.0))
            };
            let mut water = Water::flat(DVec3::Y * level, Vec3::Y);
            if dice.pick(2) == 0 {
                water = water.flowing((dice.direction() * dice.magnitude(0.1, 6.0)).as_vec3());
            }
            for _ in 0..dice.pick(3) {
                let along = dice.direction();
                let along = DVec3::new(along.x, 0.0, along.z).normalize().as_vec3();
                let (height, length) = (dice.between(0.05, 1.0) as f32, dice.between(1.0, 20.0) as f32);
                water = water.with_swell(Swell {
                    along,
                    height,
                    length,
                    period: dice.between(0.8, 6.0) as f32,
                    since: 0.0,
                });
            }
            let zone = Zone::new(id, middle - half, middle + half, Effect::Water(water));
            zones.push(zone.blended([0.0, 0.5][dice.pick(2)]).before(dice.pick(3) as i32));
        }
        Pools { world, zones, tuning: swimmer(dice), deep }
    }

    fn scene(&self) -> Scene {
        self.zones.iter().fold(Scene::new().with(self.world.mesh()), |scene, zone| scene.with_zone(*zone))
    }
}

fn swimmer(dice: &mut Dice) -> Tuning {
    let float = [0.5, 0.85, 0.95, 1.0][dice.pick(4)];
    let (drag, speed) = ([0.0, 0.5, 2.0, 6.0][dice.pick(4)], dice.magnitude(0.5, 6.0) as f32);
    let values = TuningValues {
        swim: Some(Swim {
            speed,
            rise: 0.8 * speed,
            dive: 0.7 * speed,
            acceleration: drag * (speed + 1.0) + dice.magnitude(1.0, 30.0) as f32,
            deceleration: [0.0, 1.0, 5.0][dice.pick(3)],
            drag,
            float,
            idle: [0.4, 0.0, -0.8][dice.pick(3)],
            begins: (float + 0.05).min(1.0),
            ends: float - [0.02, 0.15][dice.pick(2)],
            steers: [Steers::Buttons, Steers::View][dice.pick(2)],
            under: [Submerged::Stand, Submerged::Crouch][dice.pick(2)],
            jump: [0.0, 0.7][dice.pick(2)],
            ..Swim::default()
        }),
        ledge: [None, Some(newel::Ledge::default())][dice.pick(2)],
        dash: [None, Some(newel::Dash::default())][dice.pick(2)],
        hover: [None, Some(newel::Hover::default())][dice.pick(2)],
        crouch: Some(LowStance { height: Some(1.1), ..LowStance::crouch() }),
        ..TuningValues::default()
    };
    Tuning::new(values).expect("a swimmer")
}

fn wanted(dice: &mut Dice) -> Intent {
    let way = dice.direction().as_vec3();
    let heading = match dice.pick(6) {
        3 => Heading::To { place: dice.direction() * dice.between(0.0, 9.0), speed: 1.0 },
        0 => Heading::View(Vec2::new(way.x, way.y)),
        1 => Heading::Body(Vec2::Y),
        2 => Heading::World(Vec3::ZERO),
        _ => Heading::World(way * 1.5),
    };
    let intent = Intent::new(heading).looking(dice.direction().as_vec3());
    let intent = intent.in_stance([Stance::Stand, Stance::Crouch, Stance::Stand][dice.pick(3)]);
    Button::ALL.iter().filter(|_| dice.pick(4) == 0).fold(intent, |intent, button| intent.hold(*button))
}

/// What went wrong in a tick, if anything did: into the water and out of it twice within a moment is a flicker.
fn wrong(hero: &Character, events: &[newel::Event], last: &mut Vec<f64>) -> Option<String> {
    if !(hero.position.is_finite() && hero.velocity.is_finite() && hero.velocity.length() < 1e3) {
        return Some(format!("not sane: {:?}", hero.state()));
    }
    let lost = |k: &EventKind| {
        use EventKind::{Crushed, PushedOut, Stuck, TimeDropped};
        matches!(k, TimeDropped { .. } | Stuck | PushedOut { .. } | Crushed { .. })
    };
    if let Some(event) = events.iter().find(|e| lost(&e.kind)) {
        return Some(format!("{:?}", event.kind));
    }
    let changes = |k: &EventKind| matches!(k, EventKind::SwimBegan | EventKind::SwimEnded);
    last.extend(events.iter().filter(|e| changes(&e.kind)).map(|e| e.time));
    // What is done on request, or by the game, may come and go as fast as it likes.
    let asked = |k: &EventKind| {
        use EventKind::{Dashed, HoverBegan, HoverEnded, Jumped, Launched};
        matches!(k, Jumped { .. } | HoverBegan | HoverEnded | Dashed | Launched)
    };
    if events.iter().any(|e| asked(&e.kind)) {
        last.clear();
    }
    let flickers = last.windows(3).any(|w| w[2] - w[0] < 0.02);
    let keep = last.len().saturating_sub(3);
    last.drain(..keep);
    flickers.then(|| format!("flickers: {last:?}"))
}

fn play(seed: u64, ticks: &AtomicU64) -> Result<u64, String> {
    let mut dice = Dice(seed * 104_729 + 71);
    let pools = Pools::new(&mut dice);
    let scene = pools.scene();
    let place =
        |dice: &mut Dice| DVec3::new(dice.between(-7.0, 7.0), dice.between(-pools.deep, 2.0), dice.between(-7.0, 7.0));
    let Some(mut hero) =
        (0..20).find_map(|_| Character::spawn(&scene, &pools.tuning, Spawn::at(place(&mut dice))).ok())
    else {
        return Ok(0);
    };
    let rate = [15.0, 30.0, 60.0, 144.0, 240.0][dice.pick(5)];
    let modifiers = Modifiers::default();
    let (mut work, mut intent, mut last, mut swam) = (Workspace::new(), Intent::default(), Vec::new(), 0);
    for number in 0..1200 {
        if dice.pick((0.5 * rate) as usize + 1) == 0 {
            intent = wanted(&mut dice);
        }
        let thrown = Command::Launch(Launch::at(dice.direction() * 9.0));
        let commands: &[Command] = if dice.pick(400) == 0 { &[thrown] } else { &[] };
        let tick = Tick { number, terrain: &scene, tuning: &pools.tuning, modifiers: &modifiers, dt: 1.0 / rate };
        let outcome = tick.step(&mut work, &mut hero, &intent, commands).expect("a valid tick");
        ticks.fetch_add(1, Ordering::Relaxed);
        swam += u64::from(hero.mode == Mode::Swim);
        let shape = pools.tuning.shape_in(hero.stance);
        let gap = pools.world.gap(&hero, &pools.tuning);
        let deep = (gap < -f64::from(shape.skin())).then(|| format!("overlaps by {gap}"));
        if let Some(what) = wrong(&hero, outcome.events, &mut last).or(deep) {
            return Err(format!("seed {seed} at {rate} Hz, tick {number}, {:?}: {what}", hero.mode));
        }
    }
    Ok(swam)
}

#[test]
fn a_million_ticks_in_random_pools() {
    let (ticks, threads) = (AtomicU64::new(0), 2u64);
    let work = |of: u64| {
        (0..sample(900)).chain([3388]).filter(|s| s % threads == of).map(|seed| play(seed, &ticks)).collect::<Vec<_>>()
    };
    let found: Vec<Result<u64, String>> = thread::scope(|scope| {
        let runs: Vec<_> = (0..threads)
            .map(|of| {
                scope.spawn({
                    let work = &work;
                    move || work(of)
                })
            })
            .collect();
        runs.into_iter().flat_map(|run| run.join().expect("no panic")).collect()
    });
    let wrong: Vec<_> = found.iter().filter_map(|r| r.as_ref().err()).collect();
    let (pools, swam) =
        (found.iter().filter(|r| r.as_ref().is_ok_and(|s| *s > 0)).count(), found.iter().flatten().sum::<u64>());
    println!(
        "{} ticks, {swam} of them swimming, in {pools} pools: {} wrong",
        ticks.load(Ordering::Relaxed),
        wrong.len()
    );
    assert!(wrong.is_empty(), "{wrong:#?}");
    assert!(ticks.load(Ordering::Relaxed) > sample(900_000) && swam > sample(400_000));
}
