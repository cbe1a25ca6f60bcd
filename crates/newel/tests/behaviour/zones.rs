//! Zones of every kind, anywhere and over each other: nobody is lost in them, stuck in anything, or anything but finite.

use crate::common::oracle::Dice;
use crate::common::worlds::room;
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Axes, Button, Character, Command, Effect, EventKind, Gusts, Heading, Hover, Intent, Launch, Modifiers, Pull, Scene,
    Spawn, Stance, Swell, Tick, Tuning, Water, WaterSurface, Wind, Workspace, Zone,
};

/// Who goes about in them: named here, so that another preset does not make other rooms of them.
const PRESETS: [&str; 5] = ["walker", "heavy_explorer", "brisk_hero", "first_person", "featherweight"];

fn tuning(dice: &mut Dice) -> Tuning {
    let mut values = *Tuning::preset(PRESETS[dice.pick(PRESETS.len())]).expect("a preset").values();
    values.hover = Some(Hover { windage: dice.between(0.0, 1.0) as f32, ..Hover::default() });
    (values.ground.windage, values.air.drag) = (dice.between(0.0, 0.5) as f32, dice.magnitude(0.01, 20.0) as f32);
    values.turn.righting = dice.magnitude(30.0, 3000.0) as f32;
    Tuning::new(values).expect("a tuning")
}

/// Water with any surface, waving and flowing as it likes.
fn water(dice: &mut Dice, place: DVec3) -> Water {
    let surface = match dice.pick(3) {
        0 => WaterSurface::Border,
        1 => WaterSurface::Round { middle: place, radius: dice.between(0.1, 8.0) },
        _ => WaterSurface::Flat { through: place, up: dice.direction().as_vec3() },
    };
    let swell = Swell {
        along: dice.direction().as_vec3(),
        height: dice.between(0.0, 1.0) as f32,
        length: dice.between(0.5, 9.0) as f32,
        period: dice.between(0.3, 4.0) as f32,
        since: dice.between(-5.0, 5.0),
    };
    Water::up_to(surface).flowing((dice.direction() * dice.magnitude(0.1, 30.0)).as_vec3()).with_swell(swell)
}

fn effect(dice: &mut Dice) -> Effect {
    let place = dice.direction() * dice.between(0.0, 6.0);
    let strength = dice.between(-3.0, 3.0) as f32;
    match dice.pick(12) {
        9 | 10 => Effect::Water(water(dice, place)),
        11 => {
            // A terrain's nonsense.
            let nonsense = [f32::NAN, f32::INFINITY, 0.0][dice.pick(3)];
            let swell =
                Swell { along: Vec3::splat(nonsense), height: 1.0, length: nonsense, period: nonsense, since: 0.0 };
            let up = [Vec3::ZERO, Vec3::splat(nonsense), Vec3::X * 7.0][dice.pick(3)];
            Effect::Water(Water::flat(place, up).flowing(Vec3::splat(nonsense)).with_swell(swell))
        }
        0 => Effect::Gravity(dice.between(0.0, 4.0) as f32),
        1 => Effect::Pull(Pull::Along((dice.direction() * dice.between(0.0, 3.0)).as_vec3())),
        2 => Effect::Pull(Pull::Point { middle: place, strength }),
        3 => Effect::Pull(Pull::Segment { from: place, to: dice.direction() * 5.0, strength }),
        4 => {
            let axis = dice.direction().as_vec3();
            Effect::Pull(Pull::Circle { middle: place, axis, radius: dice.between(0.0, 5.0), strength })
        }
        5 => Effect::Pull(Pull::Ground(dice.between(0.1, 3.0) as f32)),
        6 => {
            let launch = Launch::at(dice.direction() * dice.magnitude(0.1, 60.0));
            let launch = launch.along([Axes::World, Axes::Facing, Axes::Gravity][dice.pick(3)]);
            Effect::Launch(launch.steered(dice.between(0.0, 1.0) as f32, dice.between(0.0, 2.0) as f32))
        }
        7 => {
            let gusts = Gusts {
                every: dice.between(0.1, 3.0),
                lasts: dice.between(0.0, 2.0),
                swells: dice.between(0.0, 0.5),
                lull: dice.between(0.0, 1.0) as f32,
                since: dice.between(-5.0, 5.0),
            };
            Effect::Wind(Wind::steady((dice.direction() * dice.magnitude(0.1, 200.0)).as_vec3()).in_gusts(gusts))
        }
        _ => Effect::Wind(Wind::steady([Vec3::splat(f32::NAN), Vec3::splat(f32::INFINITY)][dice.pick(2)])),
    }
}

fn intent(dice: &mut Dice) -> Intent {
    let stick = Vec2::new(dice.between(-1.0, 1.0) as f32, dice.between(-1.0, 1.0) as f32);
    let to = Heading::To { place: dice.direction() * dice.between(0.0, 9.0), speed: dice.between(0.0, 1.0) as f32 };
    let heading = [Heading::Body(stick), Heading::World(dice.direction().as_vec3()), Heading::View(stick), to];
    let intent = Intent::new(heading[dice.pick(4)]).looking(dice.direction().as_vec3());
    let intent = intent.in_stance(Stance::ALL[dice.pick(3)]);
    let held = Button::ALL.iter().filter(|_| dice.pick(4) == 0);
    held.fold(intent, |intent, &button| intent.hold(button))
}

#[test]
fn zones_of_every_kind_at_random_lose_nobody() {
    let (mut rooms, mut ticks, mut deepest, mut found) = (0, 0u64, 0.0f64, Vec::new());
    for seed in 0..300 {
        let mut dice = Dice(seed * 41 + 17);
        let world = room(&mut dice);
        let tuning = tuning(&mut dice);
        let mut scene = Scene::new().with(world.mesh());
        for id in 0..1 + dice.pick(6) as u64 {
            let (a, b) = (dice.direction() * dice.between(0.0, 9.0), dice.direction() * dice.between(0.0, 9.0));
            let zone = Zone::new(id, a.min(b), a.max(b), effect(&mut dice));
            scene = scene.with_zone(zone.before(dice.pick(3) as i32).blended(dice.between(0.0, 2.0)));
        }
        let spawn = Spawn::at(DVec3::ZERO).up(dice.direction().as_vec3());
        let spawn = if dice.pick(4) == 0 { spawn.clinging() } else { spawn };
        let Ok(mut hero) = Character::spawn(&scene, &tuning, spawn) else { continue };
        rooms += 1;
        let rate = [15.0, 30.0, 60.0, 144.0, 240.0][dice.pick(5)];
        let (mut work, mut wanted) = (Workspace::new(), Intent::default());
        for number in 0..(6.0 * rate) as u64 {
            if dice.pick((0.4 * rate) as usize) == 0 {
                wanted = intent(&mut dice);
            }
            let commands = if dice.pick((2.0 * rate) as usize) == 0 { &[Command::FlipGravity][..] } else { &[] };
            let modifiers = Modifiers::default();
            let tick = Tick { number, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
            let outcome = tick.step(&mut work, &mut hero, &wanted, commands).expect("a valid tick");
            ticks += 1;
            let lost = |k: &EventKind| {
                matches!(k, EventKind::TimeDropped { .. } | EventKind::Stuck | EventKind::PushedOut { .. })
            };
            let told = outcome.events.iter().find(|e| lost(&e.kind)).map(|e| format!("{:?}", e.kind));
            let sane = hero.position.is_finite() && hero.velocity.is_finite() && hero.flow.velocity().is_finite();
            let square = hero.facing.dot(hero.up).abs() < 1e-4;
            let skin = f64::from(tuning.shape_in(hero.stance).skin());
            deepest = deepest.max(-world.gap(&hero, &tuning) / skin);
            let wrong = told.or_else(|| (!(sane && square)).then(|| format!("{:?}", hero.state())));
            let wrong = wrong.or_else(|| (hero.position.length() > 12.0).then(|| "out of the room".to_owned()));
            if let Some(what) = wrong {
                found.push(format!("seed {seed} at {rate} Hz, tick {number}: {what}"));
                break;
            }
        }
    }
    println!("{rooms} rooms, {ticks} ticks, deepest {deepest:.3} skins, {} wrong", found.len());
    assert!(rooms > 200 && deepest < 1.0 && found.is_empty(), "{} of {rooms}:\n{}", found.len(), found.join("\n"));
}
