//! Strange worlds, strange characters, strange players: spikes, caves, balls, tori, slabs, crystals and more; from 1 cm to
//! 100 m, at home and far away, with numbers drawn at random, thrown about and moved by the game.

use crate::common::oracle::{Dice, segment_to_triangle};
use crate::common::worlds::{room, strange};
use crate::common::{World, sample};
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Button, CHOICES, Character, Command, EventKind, FIELDS, Face, Heading, Hold, Intent, Launch, Modifiers, Size,
    Spawn, Stance, Tick, Tuning, Workspace,
};

/// A preset of which some numbers and choices are others, for a character of this size.
pub fn tuning(dice: &mut Dice, scale: f32) -> Option<Tuning> {
    let mut values = *Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())])?.values();
    let mut change = |change: &mut dyn FnMut(&mut newel::TuningValues)| {
        let before = values;
        change(&mut values);
        if Tuning::new(values).is_err() {
            values = before;
        }
    };
    for field in FIELDS.iter().filter(|f| !f.path.starts_with("size.") && f.path != "turn.righting") {
        if dice.pick(5) == 0 {
            let factor = dice.magnitude(0.2, 5.0) as f32;
            change(&mut |v| {
                let other = (field.get)(v).unwrap_or(1.0) * factor;
                (field.set)(v, if field.whole { other.round() } else { other }.clamp(field.least, field.most));
            });
        }
    }
    for choice in CHOICES.iter().filter(|c| c.path != "size.form") {
        if dice.pick(4) == 0 {
            let word = dice.pick(choice.words.len());
            change(&mut |v| (choice.set)(v, word));
        }
    }
    let (height, radius) = (dice.magnitude(1.0, 2.2) as f32, dice.magnitude(0.15, 0.45) as f32);
    values.size = Size { height: scale * height, radius: scale * radius, ..values.size };
    if let Some(ledge) = &mut values.ledge {
        ledge.hang = (ledge.hang * scale).min(values.size.height - values.size.radius);
        (ledge.lowest, ledge.highest) = (ledge.lowest * scale, ledge.highest.max(ledge.lowest) * scale);
        (ledge.reach, ledge.below) = (ledge.reach * scale, ledge.below * scale);
    }
    values.ground.step = (values.ground.step * scale).min(0.5 * values.size.height);
    values.ground.speed *= scale.sqrt();
    Tuning::new(values).ok()
}

pub fn intent(dice: &mut Dice, frame: DQuat) -> Intent {
    let way = dice.direction().as_vec3();
    let stick = Vec2::new(way.x, way.z) * 1.5;
    let intent = match dice.pick(8) {
        6 => Intent::new(Heading::To { place: dice.direction() * 5.0, speed: dice.between(0.0, 1.0) as f32 }),
        5 => Intent::new(Heading::Surface(stick)),
        0 => Intent::new(Heading::View(stick)).looking(way),
        1 => Intent::new(Heading::TurnAndGo(stick)),
        2 => Intent::new(Heading::Body(stick)),
        3 => Intent::new(Heading::Plane(stick)),
        _ => Intent::toward((frame * DVec3::new(f64::from(stick.x), 0.0, f64::from(stick.y))).as_vec3()),
    };
    let faces = [Face::Tuned, Face::View, Face::Sides, Face::Nothing, Face::Point(dice.direction() * 10.0)];
    let intent = intent.facing(faces[dice.pick(5)]).in_stance(Stance::ALL[dice.pick(3)]);
    Button::ALL.iter().filter(|_| dice.pick(3) == 0).fold(intent, |intent, button| intent.hold(*button))
}

fn commands(dice: &mut Dice, scale: f64) -> Vec<Command> {
    let mut commands = Vec::new();
    if dice.pick(120) == 0 {
        let velocity = dice.direction() * dice.magnitude(0.1, 300.0) * scale.sqrt();
        commands.push(Command::Launch(Launch { adds: [dice.pick(2) == 0; 3], ..Launch::at(velocity) }));
    }
    if dice.pick(90) == 0 {
        commands.push(Command::Displace { by: dice.direction() * (dice.magnitude(0.01, 3.0) * scale).min(99.0) });
    }
    commands
}

/// What is wrong after a tick, if anything is.
fn wrong(hero: &Character, events: &[newel::Event]) -> Option<String> {
    let lost = |k: &EventKind| {
        matches!(
            k,
            EventKind::TimeDropped { .. } | EventKind::Stuck | EventKind::PushedOut { .. } | EventKind::Crushed { .. }
        )
    };
    let square = hero.facing.dot(hero.up).abs() < 1e-4 && (hero.facing.length() - 1.0).abs() < 1e-4;
    let in_order = events.windows(2).all(|pair| pair[0].time <= pair[1].time);
    if !(hero.velocity.is_finite() && hero.position.is_finite() && square && in_order) {
        return Some(format!("not sane: {events:?} {:?}", hero.state()));
    }
    // Leaving the ground and landing by turns, while no time passes, is a flicker.
    let leaves = |e: &newel::Event| matches!(e.kind, EventKind::LeftGround { .. });
    let left: Vec<f64> = events.iter().filter(|e| leaves(e)).map(|e| e.time).collect();
    if left.windows(2).any(|pair| pair[1] - pair[0] < 1e-6) {
        return Some(format!("flickers: {:?}", events.iter().map(|e| (e.time, e.kind)).collect::<Vec<_>>()));
    }
    events.iter().find(|e| lost(&e.kind)).map(|e| format!("{:?}", e.kind))
}

#[test]
fn strange_worlds_and_numbers_break_nothing() {
    let (mut worlds, mut ticks, mut deepest, mut found) = (0, 0u64, 0.0f64, Vec::new());
    for seed in 0..sample(850) {
        let mut dice = Dice(seed * 7919 + 13);
        let scale = [1.0, 1.0, 1.0, 0.01, 0.1, 10.0, 60.0][dice.pick(7)];
        let turn = dice.direction() * dice.between(0.0, 3.0) * dice.pick(2) as f64;
        let frame = DQuat::from_scaled_axis(turn);
        let (world, above) = strange(&mut dice);
        let far = DVec3::splat([0.0, 0.0, 1e4][dice.pick(3)] * scale);
        let world = world.mapped(|p| frame * p * scale + far);
        // No planes: flat worlds are extruded across theirs, and have their own in `planes.rs`.
        let Some(tuning) = tuning(&mut dice, scale as f32) else { continue };
        let aside = |dice: &mut Dice| dice.between(-2.0, 2.0);
        let start = frame * DVec3::new(aside(&mut dice), above, aside(&mut dice)) * scale + far;
        let turned = |v: DVec3| (frame * v).as_vec3();
        let spawn = Spawn::at(start).up(turned(DVec3::Y));
        let mesh = world.mesh().with_hold(0, Hold::Wall);
        let Ok(mut hero) = Character::spawn(&mesh, &tuning, spawn) else { continue };
        worlds += 1;
        let rate = [15.0, 30.0, 60.0, 144.0, 240.0][dice.pick(5)];
        let (speed, gravity) = (dice.magnitude(0.3, 3.0) as f32, dice.magnitude(0.3, 3.0) as f32);
        let modifiers = Modifiers { speed, gravity, ..Modifiers::default() };
        let (mut work, mut wanted) = (Workspace::new(), Intent::default());
        for number in 0..(4.0 * rate) as u64 {
            if dice.pick((0.3 * rate) as usize + 1) == 0 {
                wanted = intent(&mut dice, frame);
            }
            let commands = commands(&mut dice, scale);
            let tick = Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut hero, &wanted, &commands).expect("a valid tick");
            ticks += 1;
            let (shape, up) = (tuning.shape_in(hero.stance), hero.up.as_dvec3());
            let (skin, radius, height) = (f64::from(shape.skin()), f64::from(shape.radius), f64::from(shape.height));
            let (low, high) = (hero.position + up * radius, hero.position + up * (height - radius));
            let corner = |i: u32| DVec3::from_array(world.corners[i as usize]);
            let triangles = world.indices.chunks_exact(3).map(|t| [corner(t[0]), corner(t[1]), corner(t[2])]);
            let gap = triangles.map(|t| segment_to_triangle(low, high, t)).fold(f64::INFINITY, f64::min) - radius;
            deepest = deepest.max(-gap / skin);
            if let Some(what) = wrong(&hero, outcome.events).or_else(|| (gap < -skin).then(|| format!("gap {gap}"))) {
                found.push(format!("seed {seed}, {scale} at {rate} Hz, tick {number}: {what}"));
                break;
            }
        }
    }
    println!("{worlds} worlds, {ticks} ticks, deepest {deepest:.3} skins, {} wrong", found.len());
    assert!(worlds > sample(500) && found.is_empty(), "{} of {worlds}:\n{}", found.len(), found.join("\n"));
}

#[test]
fn dwarfs_and_giants_thrown_about_in_closed_rooms_stay_in_them_and_lose_no_time() {
    let (mut ticks, mut found) = (0u64, Vec::new());
    for seed in 0..240 {
        let mut dice = Dice(seed * 13 + 9);
        let scale = [1.0, 0.01, 60.0, 60.0][dice.pick(4)];
        let far = DVec3::splat([0.0, 1e4][dice.pick(2)] * scale);
        let world = room(&mut dice).mapped(|p| p * scale + far);
        let Some(tuning) = tuning(&mut dice, scale as f32) else { continue };
        let mesh = world.mesh();
        let Ok(mut hero) = Character::spawn(&mesh, &tuning, Spawn::at(far).up(dice.direction().as_vec3())) else {
            continue;
        };
        let rate = [10.0, 30.0, 60.0, 240.0][dice.pick(4)];
        let mut work = Workspace::new();
        for number in 0..200 {
            let speed = (dice.magnitude(0.1, 1000.0) * scale.max(0.1)).min(9999.0);
            let launch = [Command::Launch(Launch {
                velocity: dice.direction() * speed,
                adds: [dice.pick(2) == 0; 3],
                ..Launch::at(DVec3::ZERO)
            })];
            let commands = if dice.pick(3) == 0 { &launch[..] } else { &[] };
            let modifiers = Modifiers::default();
            let tick = Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let intent = Intent::toward(dice.direction().as_vec3());
            let outcome = tick.step(&mut work, &mut hero, &intent, commands).expect("a valid tick");
            ticks += 1;
            let out = (hero.position - far).length() > 8.5 * scale;
            let what = wrong(&hero, outcome.events).or_else(|| out.then(|| "out of the room".to_owned()));
            if let Some(what) = what {
                found.push(format!("seed {seed}, {scale} at {rate} Hz, tick {number}: {what}"));
                break;
            }
        }
    }
    println!("{ticks} ticks, {} wrong", found.len());
    assert!(ticks > 20_000 && found.is_empty(), "{} of {ticks}:\n{}", found.len(), found.join("\n"));
}

#[test]
fn from_a_centimetre_to_a_hundred_metres_and_in_any_orientation_a_walk_is_a_walk() {
    for height in [0.012f32, 0.1, 1.8, 20.0, 150.0] {
        for up in [Vec3::Y, Vec3::NEG_X, Vec3::new(0.48, -0.6, 0.64)] {
            let mut values = *Tuning::walker().values();
            let scale = height / 1.8;
            values.size.height *= scale;
            values.size.radius = (values.size.radius * scale).max(0.002);
            values.ground.step *= scale;
            values.ground.speed *= scale;
            values.ground.acceleration *= scale;
            let tuning = Tuning::new(values).unwrap();
            let normal = up.as_dvec3() / up.as_dvec3().length();
            let world = World::new().plane(DVec3::ZERO, normal, 60.0 * f64::from(scale));
            let mesh = world.mesh();
            let mut hero = Character::spawn(&mesh, &tuning, Spawn::at(DVec3::ZERO).up(up)).unwrap();
            let mut work = Workspace::new();
            let ahead = hero.facing;
            for number in 0..120 {
                let tick =
                    Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
                tick.step(&mut work, &mut hero, &Intent::toward(ahead), &[]).unwrap();
                assert_eq!(hero.mode, newel::Mode::Ground, "{height} m, up {up}, tick {number}");
            }
            let gone = hero.position.dot(ahead.as_dvec3()) / f64::from(scale);
            assert!((gone - (4.5 * 2.0 - 0.3375)).abs() < 1e-3, "{height} m, up {up}: {gone}");
        }
    }
}
