//! Scaffolds at random: ladders, poles, walls and ledges, climbed about with random intents. Nothing is passed through, no time is
//! lost, and no hold without a cause that is told.

use crate::common::oracle::Dice;
use crate::common::scenes::Ascent;
use crate::common::{SIX_RATES, World, sample};
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Button, Climb, Effect, Ending, EventKind, Heading, Hold, HoldEnd, Intent, Key, Ledge, Mode, Scene, Stance, Takes,
    Track, Tuning, TuningValues, Vault, Zone,
};

/// A scaffold, and all its triangles that stand still.
fn scaffold(dice: &mut Dice) -> (Scene, World, bool) {
    let mut scene = Scene::new();
    let mut all = World::new().floor(60.0, 0.0);
    scene = scene.with(World::new().floor(60.0, 0.0).mesh());
    for _ in 0..dice.pick(8) + 8 {
        let (x, z) = (dice.between(-3.0, 3.0), dice.between(-3.0, 3.0));
        let (w, d, low) =
            (dice.between(0.1, 1.5), dice.between(0.1, 1.5), dice.between(-0.5, 2.5) * dice.pick(2) as f64);
        let high = low + dice.between(0.2, 3.5);
        let block = World::new().block([x, low, z], [x + w, high, z + d]);
        // Some lean and are turned; each is made of something.
        let lean = dice.direction() * dice.between(0.0, 0.4) * dice.pick(2) as f64 + DVec3::Y * dice.between(0.0, 3.0);
        let turn = DQuat::from_scaled_axis(lean);
        let at = DVec3::new(x, 0.0, z);
        let block = block.mapped(|p| at + turn * (p - at));
        let surface = dice.pick(4) as u16;
        scene = scene.with(block.mesh().with_surface(surface));
        all = all.and(block);
    }
    for _ in 0..dice.pick(3) {
        let foot = DVec3::new(dice.between(-4.0, 4.0), dice.between(-1.0, 1.0), dice.between(-4.0, 4.0));
        let head = foot + DVec3::new(dice.between(-0.5, 0.5), dice.between(2.0, 6.0), dice.between(-0.5, 0.5));
        scene = scene.with_pole(foot, head, dice.between(0.02, 0.3) as f32, 3);
    }
    for id in 0..dice.pick(3) as u64 {
        let low = DVec3::new(dice.between(-4.0, 3.0), dice.between(-1.0, 1.0), dice.between(-4.0, 3.0));
        let hold = [Hold::Ladder, Hold::Wall][dice.pick(2)];
        let out = dice.direction().as_vec3() * dice.pick(2) as f32;
        let size = DVec3::new(dice.between(0.3, 1.5), dice.between(1.0, 5.0), dice.between(0.3, 1.5));
        scene = scene.with_zone(Zone::new(id + 1, low, low + size, Effect::Hold { hold, out }));
    }
    let moves = dice.pick(3) == 0;
    if moves {
        let block = World::new().block([-0.6, -1.0, -0.6], [0.6, 1.5, 0.6]).mesh();
        let path = |dice: &mut Dice, t: f64| {
            let place = DVec3::new(dice.between(-5.0, 5.0), dice.between(0.5, 2.5), dice.between(-5.0, 5.0));
            Key { orientation: DQuat::from_rotation_y(dice.between(-2.0, 2.0)), ..Key::at(t, place) }
        };
        let keys = vec![path(dice, 0.0), path(dice, 6.0), path(dice, 12.0)];
        let track = Track::new(keys, Ending::Back).expect("a track");
        let mesh = block.with_surface(1);
        scene = scene.with_moving(9, mesh, track);
    }
    (scene.with_hold(1, Hold::Wall).with_hold(2, Hold::Ladder).with_hold(3, Hold::Pole), all, moves)
}

fn tuning(dice: &mut Dice) -> Tuning {
    let takes = |dice: &mut Dice| if dice.pick(4) == 0 { Takes::Button } else { Takes::Touch };
    let climb = Climb {
        takes: takes(dice),
        rung: [0.0, 0.3][dice.pick(2)],
        slide: [0.0, 5.0][dice.pick(2)],
        acceleration: dice.magnitude(3.0, 300.0) as f32,
        hands: dice.between(0.3, 1.0) as f32,
        ..Climb::default()
    };
    let ledge = Ledge {
        takes: takes(dice),
        at_once: dice.pick(3) == 0,
        aside: dice.between(0.0, 2.0) as f32,
        ..Ledge::default()
    };
    let values = TuningValues {
        climb: Some(climb),
        ledge: Some(ledge),
        vault: Some(Vault::default()),
        ..TuningValues::default()
    };
    Tuning::new(values).expect("a tuning")
}

fn intent(dice: &mut Dice, place: DVec3) -> Intent {
    let way = dice.direction().as_vec3() * 1.3;
    let stick = Vec2::new(way.x, way.y);
    let intent = match dice.pick(5) {
        0 => Intent::toward(Vec3::new(way.x, 0.0, way.z)),
        3 => Intent::toward(-place.as_vec3()),
        1 => Intent::new(Heading::Surface(Vec2::new(0.0, 1.0))),
        2 => Intent::default(),
        _ => Intent::new(Heading::Surface(stick)),
    };
    let stance = if dice.pick(16) == 0 { Stance::Crouch } else { Stance::Stand };
    let buttons = [(Button::Jump, 9), (Button::Grab, 12), (Button::Sprint, 5)];
    buttons.iter().filter(|(_, odds)| dice.pick(*odds) == 0).fold(intent.in_stance(stance), |i, (b, _)| i.hold(*b))
}

fn lost(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Stuck | EventKind::TimeDropped { .. })
}

#[test]
fn climbed_about_at_random_nothing_is_passed_through_and_nothing_ends_without_a_cause() {
    let (mut ticks, mut seed, mut deepest, mut wrong) = (0u64, 0u64, 0.0f64, Vec::new());
    let mut spent = [0u64; 7];
    while ticks < sample(1_000_000) {
        seed += 1;
        let mut dice = Dice(seed * 101 + 7);
        let (scene, world, moves) = scaffold(&mut dice);
        let tuning = tuning(&mut dice);
        let start = [dice.between(-5.0, 5.0), dice.between(0.0, 3.0), dice.between(-5.0, 5.0)];
        if newel::Character::spawn(&scene, &tuning, newel::Spawn::at(start)).is_err() {
            continue;
        }
        let mut about = Ascent::new(scene, tuning, start);
        let rate = SIX_RATES[dice.pick(5) + usize::from(dice.pick(12) == 0)];
        let mut wanted = intent(&mut dice, about.hero.position);
        let skin = f64::from(tuning.shape().skin());
        let (mut mode, mut since) = (about.hero.mode, Vec::new());
        for _ in 0..(12.0 * rate) as u64 {
            if dice.pick((0.4 * rate) as usize + 1) == 0 {
                wanted = intent(&mut dice, about.hero.position);
            }
            let before = about.hero.clone();
            since.append(&mut about.events);
            about.until(about.hero.clock + 1.0 / rate, rate, wanted);
            ticks += 1;
            spent[about.hero.mode as usize] += 1;
            let pushed =
                about.events.iter().any(|e| matches!(e.kind, EventKind::Crushed { .. } | EventKind::PushedOut { .. }));
            let gap = world.clearance(&about.hero, &tuning);
            deepest = deepest.max(-gap / skin);
            // What is shown between two moments at which motion is decided may be a tick ahead of what is told.
            let sixtieths = about.hero.clock * 60.0;
            let is_decided = (sixtieths - sixtieths.round()).abs() < 1e-6;
            let told = |is: fn(&EventKind) -> bool| since.iter().chain(&about.events).any(|e| is(&e.kind));
            let caused = !is_decided
                || match (mode, about.hero.mode) {
                    (Mode::Climb, now) if now != Mode::Climb => told(|k| matches!(k, EventKind::ClimbEnded { .. })),
                    (Mode::Ledge, now) if now != Mode::Ledge => told(|k| matches!(k, EventKind::LedgeLeft { .. })),
                    (was, Mode::Climb) if was != Mode::Climb => told(|k| matches!(k, EventKind::ClimbBegan { .. })),
                    _ => true,
                };
            // Without a mover about, a hold is lost only where its surface ends: and it is not gone past that.
            let left = about.events.iter().find(|e| lost(&e.kind)).map(|e| format!("{:?}", e.kind));
            let left = left.or_else(|| (!caused).then(|| format!("{mode:?} to {:?} untold", about.hero.mode)));
            if is_decided {
                mode = about.hero.mode;
                since.clear();
            }
            let left = left.or_else(|| (gap < -skin && !pushed).then(|| format!("gap {gap}")));
            let square = about.hero.facing.dot(about.hero.up).abs() < 1e-4;
            let left = left.or_else(|| (!square || !about.hero.velocity.is_finite()).then(|| "not sane".to_owned()));
            let gone = !moves && about.events.iter().any(|e| e.kind == EventKind::ClimbEnded { reason: HoldEnd::Lost });
            let left = left.or_else(|| {
                gone.then(|| {
                    format!(
                        "lost its hold at {}, {:?} {:?} v {}",
                        about.hero.position, before.ground, wanted.heading, before.velocity
                    )
                })
            });
            if let Some(what) = left {
                wrong.push(format!("seed {seed}, {rate} Hz, {:.4} s, {:?}: {what}", about.hero.clock, about.hero.mode));
                break;
            }
        }
    }
    println!("{seed} scaffolds, {ticks} ticks ({spent:?} by mode), deepest {deepest:.3} skins, {} wrong", wrong.len());
    assert!(wrong.is_empty(), "{}", wrong[..wrong.len().min(10)].join("\n"));
}
