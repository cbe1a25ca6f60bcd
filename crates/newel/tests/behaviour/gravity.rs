//! Gravity of any direction: planets, walls and ceilings walked on, and turning upright.

use std::f64::consts::{PI, TAU};

use crate::common::World;
use crate::common::oracle::Dice;
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Command, Effect, Ending, Event, EventKind, Heading, Intent, Key, Mode, Modifiers, Pull, Scene,
    Slide, Spawn, Stance, Terrain, Tick, Track, Tuning, Workspace, Zone,
};

/// A ball of facets about `size` metres wide, its outside, or its inside.
fn ball(radius: f64, size: f64, inside: bool) -> World {
    let rings = (PI * radius / size).round() as usize;
    let mut world = World::new();
    let point = |ring: usize, part: f64| {
        let polar = PI * ring as f64 / rings as f64;
        DVec3::new(polar.sin() * part.cos(), polar.cos(), polar.sin() * part.sin()) * radius
    };
    for ring in 0..rings {
        let around = (TAU * radius * (PI * (ring as f64 + 0.5) / rings as f64).sin() / size).ceil().max(3.0);
        for i in 0..around as usize {
            let (a, b) = (TAU * i as f64 / around, TAU * (i as f64 + 1.0) / around);
            let (a, b) = if inside { (b, a) } else { (a, b) };
            world = world.quad(point(ring, a), point(ring, b), point(ring + 1, b), point(ring + 1, a));
        }
    }
    world
}

/// A character being stepped through a scene.
struct Stroll {
    world: World,
    scene: Scene,
    tuning: Tuning,
    hero: Character,
    work: Workspace,
    number: u64,
    events: Vec<Event>,
}

impl Stroll {
    fn new(world: World, zones: &[Zone], tuning: Tuning, start: Spawn) -> Stroll {
        let scene = zones.iter().fold(Scene::new().with(world.mesh()), |scene, zone| scene.with_zone(*zone));
        let hero = Character::spawn(&scene, &tuning, start).expect("a clear place");
        Stroll { world, scene, tuning, hero, work: Workspace::new(), number: 0, events: Vec::new() }
    }

    fn tick(&mut self, dt: f64, intent: Intent, commands: &[Command]) -> newel::Readout {
        let modifiers = Modifiers::default();
        let terrain: &dyn Terrain = &self.scene;
        let tick = Tick { number: self.number, terrain, tuning: &self.tuning, modifiers: &modifiers, dt };
        let outcome = tick.step(&mut self.work, &mut self.hero, &intent, commands).expect("a valid tick");
        self.events.extend(outcome.events);
        self.number += 1;
        outcome.readout
    }
}

fn planet(strength: f32) -> Zone {
    let pull = Pull::Point { middle: DVec3::ZERO, strength };
    Zone::new(1, DVec3::splat(-20.0), DVec3::splat(20.0), Effect::Pull(pull))
}

#[test]
fn ten_laps_round_a_planet_by_heading_alone_outside_and_inside() {
    for (strength, radius) in [(1.0, 5.0), (-1.0, 7.0)] {
        for rate in [15.0, 60.0, 240.0] {
            // Over both poles of the mesh.
            let up = DVec3::new(1.0, 0.4, 0.2).normalize() * f64::from(strength);
            let at = up * radius * f64::from(strength) + up * 0.02;
            let start = Spawn::at(at).up(up.as_vec3()).facing(Vec3::new(-0.05, 1.0, 0.3));
            let mut stroll =
                Stroll::new(ball(radius, 0.5, strength < 0.0), &[planet(strength)], Tuning::walker(), start);
            for _ in 0..(0.5 * rate) as u32 {
                stroll.tick(1.0 / rate, Intent::default(), &[]);
            }
            stroll.events.clear();
            let (mut gone, mut spun, mut gaps) = (0.0, 0.0f32, (f64::INFINITY, 0.0f64));
            while gone < 10.0 * TAU * (radius - 0.1) {
                let before = stroll.hero.clone();
                stroll.tick(1.0 / rate, Intent::new(Heading::Body(Vec2::Y)), &[]);
                let hero = stroll.hero.clone();
                gone += (hero.position - before.position).length();
                // Seen along the way the body keeps its nose: the turn about up between two ticks.
                let across = hero.facing.cross(before.facing).dot(hero.up).abs();
                spun = spun.max(across);
                assert_eq!(hero.mode, Mode::Ground, "{radius} m at {rate} Hz");
                let gap = stroll.world.gap(&hero, &stroll.tuning);
                gaps = (gaps.0.min(gap), gaps.1.max(gap));
            }
            let left = stroll.events.iter().filter(|e| matches!(e.kind, EventKind::LeftGround { .. })).count();
            println!("{radius} m at {rate} Hz: gaps {gaps:?}, left {left}, spun {spun}");
            assert!(left == 0 && spun < 1e-5, "{radius} {rate}: {left} {spun}");
            assert!(gaps.0 > -5e-5 && gaps.1 < 5e-5, "{radius} m at {rate} Hz: {gaps:?}");
        }
    }
}

#[test]
fn what_is_pulled_toward_the_ground_walks_round_a_block_and_round_a_room_by_heading_alone() {
    let block = World::new().block([-2.0, -2.0, -2.0], [2.0, 2.0, 2.0]);
    let sides = [([-4.0, -1.0, -4.0], [4.0, 0.0, 4.0]), ([-4.0, 5.0, -4.0], [4.0, 6.0, 4.0])];
    let walls = [([3.0, 0.0, -4.0], [4.0, 5.0, 4.0]), ([-4.0, 0.0, -4.0], [-3.0, 5.0, 4.0])];
    let room = sides.into_iter().chain(walls).fold(World::new(), |world, (low, high)| world.block(low, high));
    let everywhere = (DVec3::splat(-20.0), DVec3::splat(20.0));
    let held = Zone::new(1, everywhere.0, everywhere.1, Effect::Pull(Pull::Ground(1.0)));
    for (name, world, start) in [("block", block, [0.3, 2.0, 0.1]), ("room", room, [0.3, 0.0, 0.1])] {
        for (by_zone, preset) in [(false, "walker"), (true, "walker"), (false, "heavy_explorer"), (false, "brisk_hero")]
        {
            let tuning = Tuning::preset(preset).expect("a preset");
            let mut ends = Vec::new();
            for rate in [15.0, 30.0, 60.0, 144.0, 240.0, 1000.0] {
                let spawn = Spawn::at(start).facing(Vec3::new(1.0, 0.0, 0.02));
                let (spawn, zones) = if by_zone { (spawn, vec![held]) } else { (spawn.clinging(), Vec::new()) };
                let mut stroll = Stroll::new(world.clone(), &zones, tuning, spawn);
                // How often it has come onto another side, by which way up points.
                let (mut sides, mut side, mut deepest) = (0, Vec3::Y, 0.0f64);
                for _ in 0..(20.0 * rate) as u64 {
                    stroll.tick(1.0 / rate, Intent::new(Heading::Body(Vec2::Y)), &[]);
                    let hero = stroll.hero.clone();
                    assert!(hero.mode == Mode::Ground, "{name}, {preset} at {rate} Hz: {:?}", stroll.events.last());
                    deepest = deepest.max(-stroll.world.gap(&hero, &stroll.tuning));
                    if hero.up.dot(side) < 0.1 {
                        (sides, side) = (sides + 1, hero.up);
                    }
                }
                let skin = f64::from(tuning.shape().skin());
                assert!(
                    sides >= 12 && deepest < 0.5 * skin,
                    "{name}, {preset} at {rate} Hz: {sides} sides, {deepest} m"
                );
                // Against a wall it loses its speed, and gains it again up the wall; round an edge it keeps it.
                let speed = stroll.hero.velocity.length() / f64::from(tuning.values().ground.speed);
                assert!((speed - 1.0).abs() < 1e-3 || name == "room", "{preset} at {rate} Hz: {speed} of its speed");
                ends.push(stroll.hero.position);
            }
            let off = ends.iter().map(|end| (*end - ends[5]).length()).fold(0.0, f64::max);
            println!("{name}, {preset}, by zone {by_zone}: {:.2} mm apart after 20 s", off * 1e3);
            assert!(off < 0.05, "{name}, {preset}: {ends:?}");
        }
    }
}

#[test]
fn it_turns_upright_at_the_tuned_rate_whatever_the_ticks() {
    let mut values = *Tuning::walker().values();
    for righting in [90.0f32, 360.0, 1000.0] {
        values.turn.righting = righting;
        let tuning = Tuning::new(values).expect("a tuning");
        for rate in [15.0, 30.0, 60.0, 144.0, 240.0, 1000.0] {
            let mut stroll = Stroll::new(World::new().floor(1.0, -900.0), &[], tuning, Spawn::at([0.0; 3]));
            let before = stroll.hero.facing;
            stroll.tick(1.0 / rate, Intent::default(), &[Command::FlipGravity]);
            for _ in 0..(3.0 * rate) as u32 {
                stroll.tick(1.0 / rate, Intent::default(), &[]);
            }
            let righted = stroll.events.iter().find(|e| e.kind == EventKind::Righted).expect("upright").time;
            // From the first moment of the grid on, in each of its steps as far as it turns in one.
            let steps = (180.0 * 120.0 / f64::from(righting)).ceil() - 1.0;
            assert!((righted - steps / 120.0).abs() < 1e-6, "{righting}°/s at {rate} Hz: {righted}");
            assert!((stroll.hero.facing - before).length() < 1e-6, "what was ahead is ahead");
        }
    }
}

/// A tube of facets along x, its outside or its inside; closed in itself where it is bent to a ring about z.
fn tube(radius: f64, bent: Option<f64>, inside: bool) -> World {
    let (around, along) = (24, if bent.is_some() { 90 } else { 40 });
    let point = |i: usize, j: usize| {
        let (turn, part) = (TAU * j as f64 / f64::from(around), i as f64 / f64::from(along));
        let (out, side) = (radius * turn.cos(), radius * turn.sin());
        match bent {
            Some(wide) => DVec3::new((wide + out) * (TAU * part).cos(), (wide + out) * (TAU * part).sin(), side),
            None => DVec3::new(40.0 * part - 20.0, out, side),
        }
    };
    let mut world = World::new();
    for (i, j) in (0..along as usize).flat_map(|i| (0..around as usize).map(move |j| (i, j))) {
        let [a, b, c, d] = [point(i, j), point(i + 1, j), point(i + 1, j + 1), point(i, j + 1)];
        let turned_in = inside != bent.is_some();
        world = if turned_in { world.quad(a, b, c, d) } else { world.quad(d, c, b, a) };
    }
    world
}

#[test]
fn round_tubes_and_rings_it_walks_by_heading_alone_outside_and_inside() {
    let everywhere = |pull| Zone::new(1, DVec3::splat(-40.0), DVec3::splat(40.0), Effect::Pull(pull));
    let (thick, wide) = (3.0, 9.0);
    for (strength, inside) in [(1.0f32, false), (-1.0, true)] {
        let line = Pull::Segment { from: DVec3::X * -20.0, to: DVec3::X * 20.0, strength };
        let ring = Pull::Circle { middle: DVec3::ZERO, axis: Vec3::Z, radius: wide, strength };
        let up = if inside { DVec3::NEG_Y } else { DVec3::Y };
        // Straight round the tube; round it on a slant of its own; round the ring the long way, and the short way.
        let cases = [
            ("a tube", tube(thick, None, inside), line, DVec3::new(0.3, thick, 0.0), Vec3::Z),
            ("a ring, the long way", tube(thick, Some(wide), inside), ring, DVec3::Y * (wide + thick), Vec3::X),
            ("a ring, the short way", tube(thick, Some(wide), inside), ring, DVec3::Y * (wide + thick), Vec3::Z),
        ];
        for (name, world, pull, touch, ahead) in cases {
            for rate in [15.0, 60.0, 240.0] {
                let start = Spawn::at(touch + up * 0.03).up(up.as_vec3()).facing(ahead);
                let mut stroll = Stroll::new(world.clone(), &[everywhere(pull)], Tuning::walker(), start);
                stroll.tick(1.0 / rate, Intent::default(), &[]);
                for _ in 0..(0.5 * rate) as u32 {
                    stroll.tick(1.0 / rate, Intent::default(), &[]);
                }
                let (mut turned, mut deepest) = (0.0f64, 0.0f64);
                for _ in 0..(15.0 * rate) as u32 {
                    let before = stroll.hero.up;
                    stroll.tick(1.0 / rate, Intent::new(Heading::Body(Vec2::Y)), &[]);
                    turned += f64::from(stroll.hero.up.cross(before).length()).asin();
                    deepest = deepest.max(-stroll.world.gap(&stroll.hero, &stroll.tuning));
                    assert_eq!(stroll.hero.mode, Mode::Ground, "{name}, inside {inside}, {rate} Hz");
                }
                assert!(deepest < 5e-5, "{name}, inside {inside}, {rate} Hz: {deepest}");
                // 4.5 m/s: round what is 3 m thick three times and more, round the ring of 12 m once or nearly.
                let least = if name.ends_with("long way") { 0.7 } else { 3.0 };
                assert!(turned > least * TAU, "{name}, inside {inside}, {rate} Hz: {:.2} times round", turned / TAU);
            }
        }
    }
}

#[test]
fn gravity_is_as_strong_as_it_says_zones_overrule_each_other_and_fade() {
    // In the air over nothing, 0.6 m into a zone that fades over 1 m; the one before it has the last word.
    let tuning = Tuning::walker();
    let middle = f64::from(tuning.shape().height) * 0.5;
    let corners = (DVec3::new(-9.0, middle - 0.6, -9.0), DVec3::new(9.0, 90.0, 9.0));
    let zone = |id, pull| Zone::new(id, corners.0, corners.1, Effect::Pull(Pull::Along(pull)));
    let after_one_tick = |zones: &[Zone]| {
        let mut stroll = Stroll::new(World::new().floor(1.0, -900.0), zones, tuning, Spawn::at([0.0; 3]));
        stroll.tick(1e-3, Intent::default(), &[]);
        stroll.hero
    };
    let down_and_twice_east = (Vec3::NEG_Y * 0.4 + Vec3::X * (2.0 * 0.6)).as_dvec3();
    let cases = [
        (vec![zone(1, Vec3::X * 2.0)], DVec3::X * 2.0),
        (vec![zone(1, Vec3::X * 2.0).blended(1.0)], down_and_twice_east),
        (vec![zone(1, Vec3::X), zone(2, Vec3::Z * 3.0)], DVec3::Z * 3.0),
        (vec![zone(1, Vec3::X).before(1), zone(2, Vec3::Z)], DVec3::X),
        (vec![zone(1, Vec3::Z), zone(2, Vec3::X * 2.0).before(1).blended(1.0)], DVec3::new(1.2, 0.0, 0.4)),
    ];
    for (i, (zones, pull)) in cases.into_iter().enumerate() {
        let hero = after_one_tick(&zones);
        let off = (hero.up.as_dvec3() + pull.normalize()).length();
        assert!(off < 1e-6 && (f64::from(hero.gravity_factor) - pull.length()).abs() < 1e-6, "{i}: {:?}", hero.state());
    }
    for (strength, rate) in [0.5f32, 2.0].into_iter().flat_map(|s| [15.0, 240.0].map(|rate| (s, rate))) {
        let mut stroll = Stroll::new(World::new().floor(1.0, -900.0), &[], tuning, Spawn::at([0.0; 3]));
        stroll.tick(1.0 / rate, Intent::default(), &[Command::Gravity { pull: Vec3::NEG_Y * strength }]);
        let speed = -stroll.hero.velocity.y * rate / f64::from(strength);
        assert!((speed - tuning.falling_gravity()).abs() < 1e-6, "{strength} at {rate} Hz: {speed}");
    }
}

/// A closed cavity with a few blocks in it, some of them no higher than a crouch.
fn cavity(dice: &mut Dice) -> World {
    let (half, wide, high) = (3.0, dice.between(0.8, 3.0), dice.between(0.95, 3.2));
    let mut world = World::new()
        .block([-4.0, -1.0, -4.0], [4.0, 0.0, 4.0])
        .block([-4.0, high, -4.0], [4.0, high + 1.0, 4.0])
        .block([half, 0.0, -4.0], [4.0, high, 4.0])
        .block([-4.0, 0.0, -4.0], [-half, high, 4.0])
        .block([-half, 0.0, wide], [half, high, 4.0])
        .block([-half, 0.0, -4.0], [half, high, -wide]);
    for _ in 0..dice.pick(4) {
        let low = [dice.between(0.8, 2.0), dice.between(0.0, high), dice.between(-wide, wide)];
        let size = [dice.between(0.1, 1.0), dice.between(0.1, 1.0), dice.between(0.1, 1.0)];
        world = world.block(low, [0, 1, 2].map(|i| low[i] + size[i]));
    }
    world
}

/// A closed room of 6 by 6 by 5 metres, with a step and a bench.
fn hall() -> World {
    let wall = |low: [f64; 3], high: [f64; 3]| World::new().block(low, high);
    wall([-4.0, -1.0, -4.0], [4.0, 0.0, 4.0])
        .and(wall([-4.0, 5.0, -4.0], [4.0, 6.0, 4.0]))
        .and(wall([3.0, 0.0, -4.0], [4.0, 5.0, 4.0]))
        .and(wall([-4.0, 0.0, -4.0], [-3.0, 5.0, 4.0]))
        .and(wall([-3.0, 0.0, 3.0], [3.0, 5.0, 4.0]))
        .and(wall([-3.0, 0.0, -4.0], [3.0, 5.0, -3.0]))
        .and(wall([1.0, 0.0, -3.0], [3.0, 0.2, 3.0]))
        .and(wall([-3.0, 0.0, 1.5], [-1.0, 0.6, 3.0]))
}

/// True where the body could turn a degree nearer to upright without coming nearer to anything than the tuned radius: about its
/// middle, or about either end.
fn has_room_to_turn(world: &World, hero: &Character, tuning: &Tuning) -> bool {
    let size = tuning.shape_in(hero.stance);
    let (radius, length) = (f64::from(size.radius), f64::from(size.height - 2.0 * size.radius));
    let (up, axis) = (hero.up.as_dvec3(), hero.axis.as_dvec3());
    let toward = up - axis * up.dot(axis);
    if toward.length() < 0.03 {
        return false;
    }
    let low = hero.position + up * radius;
    let angles = [0.25f64, 0.5, 0.75, 1.0].map(f64::to_radians);
    let turned = angles.map(|angle| axis * angle.cos() + toward.normalize() * angle.sin());
    [0.0, 0.5, 1.0].into_iter().any(|part| {
        let stays = low + axis * (part * length);
        turned.iter().all(|axis| {
            let low = stays - *axis * (part * length);
            world.clearance_of(low, low + *axis * length) >= radius
        })
    })
}

/// How a cabin moves: as a ferry or a lift does, or while it turns as well.
fn voyage(dice: &mut Dice, turns: bool) -> Track {
    let turn = DQuat::from_rotation_y(if turns { dice.between(0.5, 2.5) } else { 0.0 });
    let there = Key::at(8.0, dice.direction() * dice.between(2.0, 12.0)).turned(turn);
    Track::new(vec![Key::at(0.0, DVec3::ZERO), there], Ending::Back).expect("a track")
}

/// What flips came to in some cavities, at rest or under way.
#[derive(Default, Debug)]
struct Flips {
    rooms: u32,
    ticks: u64,
    lying: u64,
    /// Ticks spent sliding.
    slides: u64,
    late: u32,
    stuck: usize,
    lost: usize,
    deepest: f64,
}

/// How the cavity is.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Cabin {
    Still,
    Glides,
    /// Turns as a turntable does, and its gravity is turned over.
    Turns,
}

fn flips(seeds: std::ops::Range<u64>, cabin: Cabin) -> Flips {
    let mut all = Flips::default();
    for seed in seeds {
        let mut dice = Dice(seed * 97 + 5);
        let world = if cabin == Cabin::Turns { hall() } else { cavity(&mut dice) };
        let mut values = *Tuning::preset(PRESETS[dice.pick(PRESETS.len())]).expect("a preset").values();
        // In so little room a slide has to begin soon.
        values.slide = Some(Slide { from: 1.5, ends_below: 0.5, cooldown: 0.0, ..Slide::default() });
        let tuning = Tuning::new(values).expect("a tuning");
        let track = (cabin != Cabin::Still).then(|| voyage(&mut dice, cabin == Cabin::Turns));
        let scene = match &track {
            Some(track) => Scene::new().with_moving(8, world.mesh(), track.clone()),
            None => Scene::new().with(world.mesh()),
        };
        let start = Spawn::at([-1.0, 0.0, 0.0]).in_stance(Stance::Prone);
        let Ok(hero) = Character::spawn(&scene, &tuning, start) else { continue };
        let rate = [15.0, 60.0, 144.0][dice.pick(3)];
        let mut stroll = Stroll { hero, scene, ..Stroll::new(World::new().floor(9.0, -9.0), &[], tuning, start) };
        let mut intent = Intent::default().in_stance(Stance::Prone);
        all.rooms += 1;
        let mut waited = 0.0;
        for _ in 0..(12.0 * rate) as u64 {
            let mut commands = Vec::new();
            if dice.pick((0.8 * rate) as usize) == 0 {
                let axes = [Vec3::X, Vec3::Y, Vec3::Z, Vec3::NEG_X, Vec3::NEG_Y, Vec3::NEG_Z];
                let pull = if dice.pick(2) == 0 { axes[dice.pick(6)] } else { dice.direction().as_vec3() };
                let over = dice.pick(3) == 0 || cabin == Cabin::Turns;
                commands.push(if over { Command::FlipGravity } else { Command::Gravity { pull } });
            }
            if dice.pick((0.3 * rate) as usize) == 0 {
                let stance = [Stance::Stand, Stance::Crouch, Stance::Prone][dice.pick(3)];
                intent = Intent::toward(dice.direction().as_vec3()).in_stance(stance);
                let buttons = [Button::Jump, Button::Slide, Button::Sprint];
                intent = if dice.pick(2) == 0 { intent.hold(buttons[dice.pick(3)]) } else { intent };
            }
            let before = stroll.hero.clone();
            stroll.tick(1.0 / rate, intent, &commands);
            all.ticks += 1;
            all.slides += u64::from(stroll.hero.mode == Mode::Slide);
            assert!(stroll.hero.position.is_finite() && stroll.hero.velocity.is_finite(), "seed {seed}");
            // As it is in the cabin.
            let (place, turned) = track.as_ref().map_or((DVec3::ZERO, DQuat::IDENTITY), |t| t.pose(stroll.hero.clock));
            let back = |v: Vec3| (turned.conjugate() * v.as_dvec3()).as_vec3();
            let mut hero = stroll.hero.clone();
            hero.position = turned.conjugate() * (hero.position - place);
            (hero.up, hero.axis) = (back(hero.up), back(hero.axis));
            let skin = f64::from(stroll.tuning.shape_in(hero.stance).skin());
            all.deepest = all.deepest.max(-world.gap(&hero, &stroll.tuning) / skin);
            if hero.axis != hero.up {
                all.lying += 1;
                let still = (stroll.hero.axis, stroll.hero.up, hero.stance) == (before.axis, before.up, before.stance)
                    && hero.velocity.length() < 1e-3;
                waited = if still && cabin == Cabin::Still { waited + 1.0 / rate } else { 0.0 };
                // It turns at moments 1/120 s apart.
                if waited > 0.01 && has_room_to_turn(&world, &hero, &stroll.tuning) {
                    println!("seed {seed} at {rate} Hz: {} {} {:?}", hero.up, hero.axis, hero.stance);
                    all.late += 1;
                }
            }
        }
        let wrong = |e: &&Event| matches!(e.kind, EventKind::Stuck | EventKind::PushedOut { .. });
        all.stuck += stroll.events.iter().filter(wrong).count();
        all.lost += stroll.events.iter().filter(|e| matches!(e.kind, EventKind::TimeDropped { .. })).count();
    }
    println!("{cabin:?}: {all:?}");
    all
}

/// Whose flips these are: named here, so that another preset does not make others of them.
const PRESETS: [&str; 5] = ["walker", "heavy_explorer", "brisk_hero", "first_person", "featherweight"];

#[test]
fn flips_at_any_angle_in_slots_leave_nobody_in_geometry_and_all_upright_where_there_is_room() {
    let all = flips(0..150, Cabin::Still);
    assert!((all.late, all.stuck, all.lost) == (0, 0, 0) && all.deepest < 0.5, "{all:?}");
    assert!(all.rooms > 100 && all.lying > 1000 && all.slides > 1000, "{all:?}");
}

#[test]
fn nor_do_they_in_cabins_that_move_and_turn() {
    for cabin in [Cabin::Glides, Cabin::Turns] {
        let all = flips(150..300, cabin);
        assert!((all.stuck, all.lost) == (0, 0) && all.deepest < 0.5, "{cabin:?}: {all:?}");
        assert!(all.rooms > 100 && all.lying > 1000, "{cabin:?}: {all:?}");
    }
}

fn count(events: &[newel::Event], kind: impl Fn(&EventKind) -> bool) -> usize {
    events.iter().filter(|e| kind(&e.kind)).count()
}

#[test]
fn what_clings_at_rest_is_righted_at_once_at_every_rate() {
    // On the slope from the start, or on its way down to it.
    for height in [0.0465, 3.0] {
        let times = [15.0, 60.0, 144.0, 333.0, 1000.0].map(|rate| {
            let slope = World::new().plane(DVec3::ZERO, DVec3::new(-0.5, 3.0f64.sqrt() * 0.5, 0.0), 20.0);
            let mut stroll = Stroll::new(slope, &[], Tuning::walker(), Spawn::at([0.0, height, 0.0]).clinging());
            for _ in 0..(3.0 * rate) as u32 {
                stroll.tick(1.0 / rate, Intent::default(), &[]);
            }
            assert_eq!(stroll.hero.mode, Mode::Ground);
            stroll.events.iter().find(|e| e.kind == EventKind::Righted).expect("upright").time
        });
        assert!(times.iter().all(|t| (t - times[4]).abs() < 1e-6 && *t < 0.2), "{height} m: {times:?}");
    }
}

#[test]
fn on_a_planet_nothing_is_told_to_be_righted_that_did_not_turn_over() {
    let mut stroll = Stroll::new(ball(6.0, 0.4, false), &[planet(1.0)], Tuning::walker(), Spawn::at([0.0, 6.01, 0.0]));
    let mut lowest = 1.0f32;
    for _ in 0..1200 {
        stroll.tick(1.0 / 60.0, Intent::new(Heading::Body(Vec2::Y)), &[]);
        lowest = lowest.min(stroll.hero.up.y);
    }
    assert_eq!(count(&stroll.events, |k| *k == EventKind::Righted), 0);
    assert!(lowest < -0.99 && stroll.hero.mode == Mode::Ground, "it has been on the other side: {lowest}");
}

#[test]
fn what_clings_hovers_as_long_as_it_likes_and_is_drawn_back_where_it_ends() {
    let mut values = *Tuning::walker().values();
    values.hover = Some(newel::Hover::default());
    let tuning = Tuning::new(values).unwrap();
    let wall = World::new().block([0.0, -20.0, -20.0], [1.0, 20.0, 20.0]);
    let start = Spawn::at([-0.001, 0.0, 0.0]).up(Vec3::NEG_X).pulled(Vec3::NEG_Y).clinging();
    let mut stroll = Stroll::new(wall, &[], tuning, start);
    for number in 0..360 {
        // Five seconds of it: longer than what clings is drawn in the air.
        let pressed = number == 20 || number == 320;
        let intent = if pressed { Intent::default().hold(Button::Hover) } else { Intent::default() };
        stroll.tick(1.0 / 60.0, intent, &[]);
        assert!((stroll.hero.up - Vec3::NEG_X).length() < 1e-5, "{number}: {}", stroll.hero.up);
    }
    assert_eq!(count(&stroll.events, |k| *k == EventKind::HoverEnded), 1);
    assert_eq!(stroll.hero.mode, Mode::Ground);
}

#[test]
fn a_jump_off_what_pulls_comes_back_to_it_until_its_time_is_up() {
    let (tuning, body) = (Tuning::walker(), || ball(3.0, 0.4, false));
    let pressed = |intent: Intent, so: bool| if so { intent.hold(Button::Jump) } else { intent };
    let jumping = |number: u32| pressed(Intent::new(Heading::Body(Vec2::Y)), number % 90 < 30);
    for rate in [15.0, 60.0, 240.0] {
        let mut stroll = Stroll::new(body(), &[], tuning, Spawn::at([0.0, 3.01, 0.0]).clinging());
        for number in 0..(60.0 * rate) as u32 {
            stroll.tick(1.0 / rate, jumping((f64::from(number) * 60.0 / rate) as u32), &[]);
            assert!(stroll.hero.position.length() < 8.0, "{rate} Hz: off at {}", stroll.hero.position);
        }
        let jumps = count(&stroll.events, |k| matches!(k, EventKind::Jumped { .. }));
        let landings = count(&stroll.events, |k| matches!(k, EventKind::Landed { .. }));
        assert!(jumps > 30 && landings + 1 >= jumps, "{rate} Hz: {jumps} jumps, {landings} landings");
    }
    // Let go sooner, its own gravity pulls: off the underside it falls for good.
    let mut values = *tuning.values();
    values.air.clings = 0.1;
    let hasty = Tuning::new(values).unwrap();
    let mut stroll =
        Stroll::new(body(), &[], hasty, Spawn::at([0.0, -3.01, 0.0]).up(Vec3::NEG_Y).pulled(Vec3::NEG_Y).clinging());
    for number in 0..180 {
        stroll.tick(1.0 / 60.0, pressed(Intent::default(), number > 20 && number < 30), &[]);
    }
    assert!(stroll.hero.mode == Mode::Air && stroll.hero.position.y < -8.0, "{}", stroll.hero.position);
}

#[test]
fn in_a_corner_that_pulls_two_ways_one_holds_it() {
    let tuning = Tuning::walker();
    for rate in [15.0, 60.0, 333.0] {
        let corner = World::new().floor(9.0, 0.0).block([2.0, 0.0, -9.0], [3.0, 6.0, 9.0]);
        let mut stroll = Stroll::new(corner, &[], tuning, Spawn::at([0.0; 3]).clinging());
        for number in 0..(6.0 * rate) as u32 {
            let angle = f64::from(number) / rate * 0.2;
            let heading = Vec3::new(angle.cos() as f32, -angle.sin() as f32, 0.1);
            stroll.tick(1.0 / rate, Intent::toward(heading), &[]);
        }
        let turns = count(&stroll.events, |k| matches!(k, EventKind::GravityTurned { .. }));
        assert!((1..=4).contains(&turns), "{rate} Hz: {turns} turns");
    }
}
