//! Rest is rest: no bit moves without input, and the least input moves it.

use crate::common::{Silent, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{Character, EventKind, Intent, Mode, Modifiers, State, Terrain, Tick, Tuning, Workspace};

/// What must not change by a bit while standing still; the clock goes on.
fn bits(hero: &Character) -> State {
    State { clock: 0.0, ..*hero.state() }
}

fn tilted(degrees: f64) -> World {
    let tilt = degrees.to_radians();
    World::new().plane(DVec3::ZERO, DVec3::new(-tilt.sin(), tilt.cos(), 0.0), 60.0)
}

fn settled(world: World, at: [f64; 3]) -> Walk {
    let mut walk = Walk::new(world, Tuning::walker(), at);
    walk.go(1.0 / 60.0, 1.0, Intent::default());
    assert_eq!(walk.hero.mode, Mode::Ground, "{:?}", walk.hero.ground);
    assert_eq!(walk.hero.velocity, DVec3::ZERO);
    walk
}

fn stands_still(mut walk: Walk, ticks: u32) {
    let before = bits(&walk.hero);
    for i in 0..ticks {
        // Ticks of every length: 1 ms to a quarter of a second.
        let dt = [0.001, 1.0 / 60.0, 0.25, 1.0 / 144.0][(i % 4) as usize];
        walk.tick(dt, Intent::default());
        assert_eq!(bits(&walk.hero), before, "tick {i}");
    }
}

#[test]
fn ten_minutes_on_a_30_degree_slope_change_no_bit_and_a_light_stick_moves_it() {
    for _ in every_frame() {
        let mut walk = settled(tilted(30.0), [0.0, 0.2, 0.0]);
        let before = bits(&walk.hero);
        for tick in 0..36_000 {
            walk.tick(1.0 / 60.0, Intent::default());
            assert_eq!(bits(&walk.hero), before, "tick {tick}");
        }
        let from = walk.hero.position;
        walk.go(1.0 / 60.0, 1.0, Intent::toward(Vec3::X * 0.01));
        let gone = (walk.hero.position - from).length();
        assert!((gone - 0.045).abs() < 0.001, "a hundredth of the speed for a second: {gone}");
    }
}

#[test]
fn on_every_walkable_slope() {
    for _ in every_frame() {
        for degrees in [0.0, 1.0, 10.0, 20.0, 40.0, 44.5, 45.0] {
            stands_still(settled(tilted(degrees), [0.0, 0.3, 0.0]), 2_000);
        }
    }
}

#[test]
fn half_a_degree_over_the_limit_slides() {
    for _ in every_frame() {
        let mut walk = Walk::new(tilted(45.5), Tuning::walker(), [0.0, 0.3, 0.0]);
        walk.go(1.0 / 60.0, 2.0, Intent::default());
        assert_eq!(walk.hero.ground.support, newel::Support::TooSteep);
        assert!(walk.hero.position.y < -5.0, "{}", walk.hero.position);
        // Frictionless: a quarter of g sin(2a) t² down.
        let (g, a, t) = (18.0, 45.5f64.to_radians(), 2.0);
        let expected = -0.5 * g * a.sin() * a.sin() * t * t;
        assert!((walk.hero.position.y - expected).abs() < 0.4, "{} {expected}", walk.hero.position.y);
    }
}

#[test]
fn in_a_corner_a_v_a_fan_and_on_steps() {
    for _ in every_frame() {
        let corner = World::new()
            .floor(10.0, 0.0)
            .block([0.31, 0.0, -5.0], [1.0, 3.0, 5.0])
            .block([-5.0, 0.0, 0.31], [5.0, 3.0, 1.0]);
        stands_still(settled(corner, [0.0, 0.0, 0.0]), 2_000);

        let v = |side: f64| DVec3::new(-side * 60f64.to_radians().sin(), 60f64.to_radians().cos(), 0.0);
        let valley = World::new().plane(DVec3::ZERO, v(1.0), 20.0).plane(DVec3::ZERO, v(-1.0), 20.0);
        stands_still(settled(valley, [0.0, 1.0, 0.0]), 2_000);

        let mut fan = World::new();
        for i in 0..200 {
            let ray = |k: i32| {
                DVec3::new(
                    (f64::from(k) / 100.0 - 1.0).sin() * 9.0,
                    0.02 * f64::from(k % 2),
                    (f64::from(k) / 100.0 - 1.0).cos() * 9.0,
                )
            };
            fan = fan.triangle(DVec3::ZERO, ray(i), ray(i + 1));
        }
        stands_still(settled(fan, [0.0, 0.1, 1.0]), 2_000);

        // Half on, half off a step, resting on its rim.
        let steps = World::new().floor(10.0, 0.0).stairs(0.0, 0.2, 0.3, 5, 2.0);
        for x in [-0.25, -0.1, 0.05, 0.2] {
            stands_still(settled(steps.clone(), [x, 1.2, 0.0]), 1_000);
        }
    }
}

#[test]
fn a_v_that_holds_it_up_is_ground_to_jump_from() {
    for _ in every_frame() {
        let v = |side: f64| DVec3::new(-side * 60f64.to_radians().sin(), 60f64.to_radians().cos(), 0.0);
        let valley = World::new().plane(DVec3::ZERO, v(1.0), 20.0).plane(DVec3::ZERO, v(-1.0), 20.0);
        let mut walk = settled(valley, [0.0, 1.0, 0.0]);
        assert_eq!(walk.hero.ground.support, newel::Support::Wedge);
        walk.tick(1.0 / 60.0, Intent::default().hold(newel::Button::Jump));
        assert!(walk.events.iter().any(|e| matches!(e.kind, EventKind::Jumped { .. })));
        walk.go(1.0 / 60.0, 2.0, east());
        assert_eq!(walk.hero.mode, Mode::Ground, "and back in it");
    }
}

#[test]
fn too_much_of_the_foot_over_a_drop_slips_off_and_less_holds() {
    for _ in every_frame() {
        let ledge = World::new().floor(20.0, -5.0).block([-5.0, -5.0, -5.0], [0.0, 0.0, 5.0]);
        // The walker's limit is half of its 0.3 m radius.
        stands_still(settled(ledge.clone(), [0.14, 0.0, 0.0]), 1_000);
        let mut walk = Walk::new(ledge, Tuning::walker(), [0.17, 0.0, 0.0]);
        walk.go(1.0 / 60.0, 2.0, Intent::default());
        assert!(walk.hero.position.y < -4.9 && walk.hero.mode == Mode::Ground, "{:?}", walk.hero.position);
    }
}

#[test]
fn rest_remembered_is_the_same_to_the_bit_and_forgotten_at_once() {
    let mesh = tilted(30.0).mesh();
    let tuning = Tuning::walker();
    let modifiers = Modifiers::default();
    let mut work = Workspace::new();
    let mut step = |terrain: &dyn Terrain, tuning: &Tuning, hero: &mut Character, intent: Intent| {
        let tick = Tick { number: 0, terrain, tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
        tick.step(&mut work, hero, &intent, &[]).expect("a valid tick").readout
    };
    let start = Character::spawn(&mesh, &tuning, [0.0, 0.2, 0.0]).expect("a clear place");
    let (mut quick, mut slow) = (start.clone(), start);
    let silent = Silent(&mesh);
    for tick in 0..400 {
        // Standing, walking, standing with a button going down and up, and standing again.
        let intent = match tick / 100 {
            1 => Intent::toward(Vec3::Z),
            2 if tick % 20 < 5 => Intent::default().hold(newel::Button::Jump),
            _ => Intent::default(),
        };
        let told = step(&mesh, &tuning, &mut quick, intent);
        assert_eq!(told, step(&silent, &tuning, &mut slow, intent), "tick {tick}");
        assert_eq!((quick.hash(), quick.state()), (slow.hash(), slow.state()), "tick {tick}");
    }
    assert!(quick.velocity == DVec3::ZERO && quick.position.z > 1.0, "{:?}", quick.state());

    // Another tuning, another terrain, another place: each is noticed in the very next tick.
    let mut values = *tuning.values();
    values.ground.steepest = 20.0;
    let steep = Tuning::new(values).expect("a valid tuning");
    let mut hero = quick.clone();
    assert!(!step(&mesh, &steep, &mut hero, Intent::default()).grounded, "too steep by now");
    let mut hero = quick.clone();
    let elsewhere = tilted(30.0).mapped(|p| p - DVec3::Y * 3.0).mesh();
    assert!(!step(&elsewhere, &tuning, &mut hero, Intent::default()).grounded, "the ground is three metres down");
    let mut hero = quick;
    hero.position.y += 1.0;
    assert!(!step(&mesh, &tuning, &mut hero, Intent::default()).grounded, "put in the air by the game");
}
