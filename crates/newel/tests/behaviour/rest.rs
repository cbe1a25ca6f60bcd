//! Rest is rest: no bit moves without input, and the least input moves it.

use crate::common::{Silent, Walk, World, east, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Character, CustomMode, EventKind, Intent, Mesh, Mode, ModeCx, Modifiers, Next, Readout, State, Terrain, Tick,
    Tuning, Workspace,
};

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

/// A mode that never begins and is always asked: whoever has it is never left standing uncomputed.
#[derive(Clone)]
struct Restless;

impl CustomMode for Restless {
    fn advance(&mut self, _: &mut ModeCx<'_, '_>) -> Next {
        Next::Leave
    }
}

fn step<M: CustomMode + Clone>(
    (terrain, tuning): (&dyn Terrain, &Tuning),
    work: &mut Workspace,
    hero: &mut Character<M>,
    intent: Intent,
) -> Readout {
    let tick = Tick { number: 0, terrain, tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
    tick.step(work, hero, &intent, &[]).expect("a valid tick").readout
}

#[test]
fn rest_remembered_is_the_same_to_the_bit_and_forgotten_at_once() {
    let (mesh, tuning, mut work) = (tilted(30.0).mesh(), Tuning::walker(), Workspace::new());
    let silent = Silent(&mesh);
    let start = Character::spawn(&mesh, &tuning, [0.0, 0.2, 0.0]).expect("a clear place");
    let mut restless = Character::spawn_with(&mesh, &tuning, [0.0, 0.2, 0.0], Restless).expect("a clear place");
    let (mut told, mut looks) = (start.clone(), start);
    for tick in 0..400 {
        // Standing, walking, standing with a button going down and up, and standing again.
        let intent = match tick / 100 {
            1 => Intent::toward(Vec3::Z),
            2 if tick % 20 < 5 => Intent::default().hold(newel::Button::Jump),
            _ => Intent::default(),
        };
        let computed = step((&silent, &tuning), &mut work, &mut restless, intent);
        assert!(tick < 390 || work.take_queries() > 0, "it is computed");
        work.take_queries();
        // On terrain that says that it has not changed, and on terrain that is looked at.
        for (terrain, hero) in [(&mesh as &dyn Terrain, &mut told), (&silent, &mut looks)] {
            assert_eq!(step((terrain, &tuning), &mut work, hero, intent), computed, "tick {tick}");
            assert_eq!(hero.state(), restless.state(), "tick {tick}");
            assert!(tick < 390 || work.take_queries() == 0, "tick {tick}: it rests");
        }
        assert_eq!(told.hash(), looks.hash(), "tick {tick}");
    }
    assert!(told.velocity == DVec3::ZERO && told.position.z > 1.0, "{:?}", told.state());

    // Another tuning, another terrain, another place: each is noticed in the very next tick.
    let mut values = *tuning.values();
    values.ground.steepest = 20.0;
    let steep = Tuning::new(values).expect("a valid tuning");
    let elsewhere = tilted(30.0).mapped(|p| p - DVec3::Y * 3.0).mesh();
    let post = told.position + DVec3::new(-0.1, 0.0, 0.25);
    let beside = tilted(30.0).block((post - 0.05).to_array(), (post + DVec3::new(0.05, 2.0, 0.05)).to_array()).mesh();
    for (number, hero) in [told, looks].into_iter().enumerate() {
        let mut grounded = |level: &Mesh, tuning: &Tuning, hero: &mut Character| {
            let terrain: [&dyn Terrain; 2] = [level, &Silent(level)];
            step((terrain[number], tuning), &mut work, hero, Intent::default()).grounded
        };
        assert!(!grounded(&mesh, &steep, &mut hero.clone()), "too steep by now");
        assert!(!grounded(&elsewhere, &tuning, &mut hero.clone()), "the ground is three metres down");
        let mut pushed = hero.clone();
        assert!(
            grounded(&beside, &tuning, &mut pushed) && pushed.position != hero.position,
            "a post has grown into it"
        );
        let mut lifted = hero;
        lifted.position.y += 1.0;
        assert!(!grounded(&mesh, &tuning, &mut lifted), "put in the air by the game");
    }
}
