//! Gravity of any direction: planets, walls and ceilings walked on, and turning upright.

mod common;

use std::f64::consts::{PI, TAU};

use common::World;
use common::oracle::Dice;
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Command, Effect, Event, EventKind, Heading, Intent, Mode, Modifiers, Pull, Scene, Spawn, Stance,
    Terrain, Tick, Tuning, Workspace, Zone,
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
                let before = stroll.hero;
                stroll.tick(1.0 / rate, Intent::new(Heading::Body(Vec2::Y)), &[]);
                let hero = stroll.hero;
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

#[test]
fn flips_at_any_angle_in_slots_leave_nobody_in_geometry_and_all_upright_where_there_is_room() {
    let (mut ticks, mut rooms, mut late, mut lying, mut deepest) = (0u64, 0, 0, 0u64, 0.0f64);
    let (mut stuck, mut lost) = (0, 0);
    for seed in 0..150 {
        let mut dice = Dice(seed * 97 + 5);
        let world = cavity(&mut dice);
        let tuning = Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())]).expect("a preset");
        let scene = Scene::new().with(world.mesh());
        let start = Spawn::at([-1.0, 0.0, 0.0]).in_stance(Stance::Prone);
        let Ok(hero) = Character::spawn(&scene, &tuning, start) else { continue };
        let rate = [15.0, 60.0, 144.0][dice.pick(3)];
        let mut stroll = Stroll { hero, ..Stroll::new(world, &[], tuning, start) };
        let mut intent = Intent::default().in_stance(Stance::Prone);
        rooms += 1;
        let mut waited = 0.0;
        for _ in 0..(12.0 * rate) as u64 {
            let mut commands = Vec::new();
            if dice.pick((0.8 * rate) as usize) == 0 {
                let axes = [Vec3::X, Vec3::Y, Vec3::Z, Vec3::NEG_X, Vec3::NEG_Y, Vec3::NEG_Z];
                let pull = if dice.pick(2) == 0 { axes[dice.pick(6)] } else { dice.direction().as_vec3() };
                commands.push(if dice.pick(3) == 0 { Command::FlipGravity } else { Command::Gravity { pull } });
            }
            if dice.pick((0.3 * rate) as usize) == 0 {
                let stance = [Stance::Stand, Stance::Crouch, Stance::Prone][dice.pick(3)];
                intent = Intent::toward(dice.direction().as_vec3()).in_stance(stance);
                let buttons = [Button::Jump, Button::Slide, Button::Sprint];
                intent = if dice.pick(2) == 0 { intent.hold(buttons[dice.pick(3)]) } else { intent };
            }
            let before = stroll.hero;
            stroll.tick(1.0 / rate, intent, &commands);
            ticks += 1;
            let hero = &stroll.hero;
            let skin = f64::from(stroll.tuning.shape_in(hero.stance).skin());
            deepest = deepest.max(-stroll.world.gap(hero, &stroll.tuning) / skin);
            assert!(hero.position.is_finite() && hero.velocity.is_finite(), "seed {seed}: {:?}", hero.state);
            if hero.axis != hero.up {
                lying += 1;
                let still = (hero.axis, hero.up, hero.stance) == (before.axis, before.up, before.stance)
                    && hero.velocity.length() < 1e-3;
                waited = if still { waited + 1.0 / rate } else { 0.0 };
                // It turns at moments 1/120 s apart.
                if waited > 0.01 && has_room_to_turn(&stroll.world, hero, &stroll.tuning) {
                    println!("seed {seed} at {rate} Hz: {} {} {:?}", hero.up, hero.axis, hero.stance);
                    late += 1;
                }
            }
        }
        let wrong = |e: &&Event| matches!(e.kind, EventKind::Stuck | EventKind::PushedOut { .. });
        stuck += stroll.events.iter().filter(wrong).count();
        lost += stroll.events.iter().filter(|e| matches!(e.kind, EventKind::TimeDropped { .. })).count();
    }
    println!("{rooms} rooms, {ticks} ticks, {lying} of them not upright, {late} late, deepest {deepest:.3} skins");
    println!("{stuck} stuck or pushed out, {lost} lost time");
    assert!(rooms > 100 && (late, stuck, lost) == (0, 0, 0) && lying > 1000 && deepest < 0.5);
}
