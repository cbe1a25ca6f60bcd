//! Strange worlds, strange characters, strange players: noisy heights, balls, pipes, tori, slabs and crystals; from 1 cm to
//! 100 m, with numbers drawn at random, thrown about and moved by the game.

mod common;

use std::f64::consts::{PI, TAU};

use common::World;
use common::oracle::{Dice, segment_to_triangle};
use newel::glam::{DQuat, DVec3, Vec2};
use newel::{
    Button, CHOICES, Character, Command, EventKind, FIELDS, Face, Form, Heading, Intent, Modifiers, Size, Spawn, Tick,
    Tuning, Workspace,
};

/// A world of one of six makes, `scale` times as large as for a grown-up.
fn world(dice: &mut Dice, scale: f64) -> World {
    let kind = dice.pick(6);
    let mut world = match kind {
        0 => heights(dice),
        1..=3 => rounds(dice, kind),
        4 => slabs(dice),
        _ => crystals(dice),
    };
    if kind != 2 {
        world = world.floor(60.0, -6.0);
    }
    world.mapped(|p| p * scale)
}

fn heights(dice: &mut Dice) -> World {
    let (cell, high) = (dice.magnitude(0.1, 2.0), dice.magnitude(0.05, 3.0));
    let noise: Vec<f64> = (0..25 * 25).map(|_| dice.between(-high, high)).collect();
    let p = |i: usize, k: usize| DVec3::new((i as f64 - 12.0) * cell, noise[i * 25 + k], (k as f64 - 12.0) * cell);
    let cells = (0..24).flat_map(|i| (0..24).map(move |k| (i, k)));
    cells.fold(World::new(), |world, (i, k)| world.quad(p(i, k), p(i, k + 1), p(i + 1, k + 1), p(i + 1, k)))
}

/// A ball, a pipe from inside, or a torus.
fn rounds(dice: &mut Dice, kind: usize) -> World {
    let (around, along) = (16 + dice.pick(20), 10 + dice.pick(16));
    let radius = dice.magnitude(1.5, 6.0);
    let p = |i: usize, k: usize| {
        let (a, part) = ((i % around) as f64 / around as f64 * TAU, k as f64 / along as f64);
        let (b, c) = (part * PI, part * TAU);
        match kind {
            1 => DVec3::new(a.cos() * b.sin(), b.cos() - 1.0, a.sin() * b.sin()) * radius,
            2 => DVec3::new(a.cos(), a.sin() + 0.8, 8.0 * (part - 0.5)) * radius,
            _ => {
                let out = 1.0 + 0.4 * c.cos();
                DVec3::new(out * a.cos(), 0.4 * (c.sin() - 1.0), out * a.sin()) * radius
            }
        }
    };
    let cells = (0..around).flat_map(|i| (0..along).map(move |k| (i, k)));
    cells.fold(World::new(), |world, (i, k)| world.quad(p(i, k), p(i + 1, k), p(i + 1, k + 1), p(i, k + 1)))
}

fn somewhere(dice: &mut Dice) -> DVec3 {
    DVec3::new(dice.between(-4.0, 4.0), dice.between(-3.0, 1.3), dice.between(-4.0, 4.0))
}

fn slabs(dice: &mut Dice) -> World {
    (0..30).fold(World::new(), |world, _| {
        let (at, turn) = (somewhere(dice), DQuat::from_scaled_axis(dice.direction() * dice.between(0.0, 3.0)));
        let (u, v) = (turn * DVec3::X * dice.magnitude(0.2, 3.0), turn * DVec3::Z * dice.magnitude(0.2, 3.0));
        world.quad(at - u - v, at + u - v, at + u + v, at - u + v)
    })
}

fn crystals(dice: &mut Dice) -> World {
    (0..60).fold(World::new(), |world, _| {
        let (at, size) = (somewhere(dice), dice.magnitude(0.02, 3.0));
        let [a, b, c, d] = std::array::from_fn(|_| at + dice.direction() * size);
        world.triangle(a, b, c).triangle(a, b, d).triangle(a, c, d).triangle(b, c, d)
    })
}

/// A preset of which some numbers and choices are others, for a character of this size.
fn tuning(dice: &mut Dice, scale: f32) -> Option<Tuning> {
    let mut values = *Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())])?.values();
    let mut change = |change: &mut dyn FnMut(&mut newel::TuningValues)| {
        let before = values;
        change(&mut values);
        if Tuning::new(values).is_err() {
            values = before;
        }
    };
    for field in FIELDS.iter().filter(|f| !f.path.starts_with("size.")) {
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
    values.size = Size { form: Form::Capsule, height: scale * height, radius: scale * radius };
    values.ground.step = (values.ground.step * scale).min(0.5 * values.size.height);
    values.ground.speed *= scale.sqrt();
    Tuning::new(values).ok()
}

fn intent(dice: &mut Dice, frame: DQuat) -> Intent {
    let way = dice.direction().as_vec3();
    let stick = Vec2::new(way.x, way.z) * 1.5;
    let intent = match dice.pick(6) {
        0 => Intent::new(Heading::View(stick)).looking(way),
        1 => Intent::new(Heading::TurnAndGo(stick)),
        2 => Intent::new(Heading::Body(stick)),
        3 => Intent::new(Heading::Plane(stick)),
        _ => Intent::toward((frame * DVec3::new(f64::from(stick.x), 0.0, f64::from(stick.y))).as_vec3()),
    };
    let faces = [Face::Tuned, Face::View, Face::Sides, Face::Nothing, Face::Point(dice.direction() * 10.0)];
    let intent = intent.facing(faces[dice.pick(5)]);
    Button::ALL.iter().filter(|_| dice.pick(3) == 0).fold(intent, |intent, button| intent.hold(*button))
}

fn commands(dice: &mut Dice, scale: f64) -> Vec<Command> {
    let mut commands = Vec::new();
    if dice.pick(120) == 0 {
        let velocity = dice.direction() * dice.magnitude(0.1, 300.0) * scale.sqrt();
        commands.push(Command::Launch { velocity, add: dice.pick(2) == 0 });
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
        return Some(format!("not sane: {events:?} {:?}", hero.state));
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
    for seed in 0..500 {
        let mut dice = Dice(seed * 7919 + 13);
        let scale = [1.0, 1.0, 1.0, 0.01, 0.1, 10.0, 60.0][dice.pick(7)];
        let turn = dice.direction() * dice.between(0.0, 3.0) * dice.pick(2) as f64;
        let frame = DQuat::from_scaled_axis(turn);
        let world = world(&mut dice, scale).mapped(|p| frame * p);
        // No planes: flat worlds are extruded across theirs, and have their own in `planes.rs`.
        let Some(tuning) = tuning(&mut dice, scale as f32) else { continue };
        let aside = |dice: &mut Dice| dice.between(-2.0, 2.0);
        let start = frame * DVec3::new(aside(&mut dice), 3.0, aside(&mut dice)) * scale;
        let turned = |v: DVec3| (frame * v).as_vec3();
        let spawn = Spawn::at(start).up(turned(DVec3::Y));
        let mesh = world.mesh();
        let Ok(mut hero) = Character::spawn(&mesh, &tuning, spawn) else { continue };
        worlds += 1;
        let rate = [15.0, 30.0, 60.0, 144.0, 240.0][dice.pick(5)];
        let (speed, gravity) = (dice.magnitude(0.3, 3.0) as f32, dice.magnitude(0.3, 3.0) as f32);
        let modifiers = Modifiers { speed, gravity, ..Modifiers::default() };
        let (mut work, mut wanted) = (Workspace::new(), Intent::default());
        let shape = tuning.shape();
        let (skin, radius, height) = (f64::from(shape.skin()), f64::from(shape.radius), f64::from(shape.height));
        for number in 0..(4.0 * rate) as u64 {
            if dice.pick((0.3 * rate) as usize + 1) == 0 {
                wanted = intent(&mut dice, frame);
            }
            let commands = commands(&mut dice, scale);
            let tick = Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut hero, &wanted, &commands).expect("a valid tick");
            ticks += 1;
            let up = hero.up.as_dvec3();
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
    assert!(worlds > 350 && found.is_empty(), "{} of {worlds}:\n{}", found.len(), found.join("\n"));
}

/// A closed room of uneven walls about the origin, half of its facets the wrong way round.
fn room(dice: &mut Dice) -> World {
    let (around, along) = (5 + dice.pick(14), 4 + dice.pick(10));
    let even = dice.pick(2) == 0;
    let reach: Vec<f64> = (0..around * (along + 1)).map(|_| if even { 4.0 } else { dice.between(3.0, 6.0) }).collect();
    let p = |i: usize, k: usize| {
        let (a, b) = ((i % around) as f64 / around as f64 * TAU, k as f64 / along as f64 * PI);
        let pole = k == 0 || k == along;
        let far = if pole { 4.0 } else { reach[(i % around) * (along + 1) + k] };
        DVec3::new(a.cos() * b.sin(), b.cos(), a.sin() * b.sin()) * far
    };
    let mut world = World::new();
    for (i, k) in (0..around).flat_map(|i| (0..along).map(move |k| (i, k))) {
        let (a, b, c, d) = (p(i, k), p(i + 1, k), p(i + 1, k + 1), p(i, k + 1));
        for [a, b, c] in [[a, b, c], [a, c, d]] {
            if (b - a).cross(c - a).length() > 1e-9 {
                world = if dice.pick(2) == 0 { world.triangle(a, b, c) } else { world.triangle(a, c, b) };
            }
        }
    }
    world
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
            let launch = [Command::Launch { velocity: dice.direction() * speed, add: dice.pick(2) == 0 }];
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
