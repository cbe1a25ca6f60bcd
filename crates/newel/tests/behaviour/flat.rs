//! On open ground and in open air: motion against the formulas, at every tick rate.

use crate::common::{SIX_RATES, Walk, World, east, every_frame};
use newel::glam::Vec3;
use newel::{Button, EventKind, Intent, Tuning};

fn on_a_floor(at: [f64; 3]) -> Walk {
    Walk::new(World::new().floor(200.0, 0.0), Tuning::walker(), at)
}

#[test]
fn top_speed_is_reached_when_the_acceleration_says_and_lost_when_the_deceleration_says() {
    for frame in every_frame() {
        for rate in SIX_RATES {
            let mut walk = on_a_floor([0.0; 3]);
            let ground = walk.tuning.values().ground;
            let time = f64::from(ground.speed / ground.acceleration);
            let distance = 0.5 * f64::from(ground.speed) * time;
            walk.go(1.0 / rate, 1.0, east());
            // Whatever the ticks, the whole path is the ramp's own and then the top speed's.
            let expected = distance + f64::from(ground.speed) * (1.0 - time);
            assert!((walk.hero.position.x - expected).abs() < 1e-6, "{rate} Hz: {} {expected}", walk.hero.position.x);
            let off = walk.hero.velocity.x - f64::from(ground.speed);
            // Upright to the bit; turned, as well as a unit vector of single precision is one long.
            assert!(off.abs() <= if frame == 0 { 0.0 } else { 1e-6 }, "{rate} Hz: {off}");

            let from = walk.hero.position.x;
            walk.go(1.0 / rate, 1.0, Intent::default());
            let stop = 0.5 * f64::from(ground.speed).powi(2) / f64::from(ground.deceleration);
            assert!((walk.hero.position.x - from - stop).abs() < 1e-6, "{rate} Hz");
            assert_eq!(walk.hero.velocity.length(), 0.0, "{rate} Hz: rest is exactly zero");
        }
    }
}

#[test]
fn a_jump_tops_out_at_the_tuned_height_and_time() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = on_a_floor([0.0; 3]);
            walk.go(1.0 / rate, 1.0, Intent::default().hold(Button::Jump));
            let jump = walk.tuning.values().jump.unwrap();
            let top = walk.events.iter().find(|e| e.kind == EventKind::Topped).expect("a top");
            let (height, time) = (f64::from(jump.height), f64::from(jump.time_to_top.unwrap()));
            assert!((top.place.y - height).abs() < 1e-4 * height, "{rate} Hz: {}", top.place.y);
            assert!((top.time - time).abs() < 1e-4 * time, "{rate} Hz: {}", top.time);
            assert_eq!(
                walk.events.iter().filter(|e| matches!(e.kind, EventKind::Jumped { .. })).count(),
                1,
                "held is not pressed again"
            );
        }
    }
}

#[test]
fn a_fall_lands_at_the_speed_of_the_formula() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            let mut walk = on_a_floor([0.0, 10.0, 0.0]);
            walk.go(1.0 / rate, 2.0, Intent::default());
            let gravity = f64::from(walk.tuning.values().air.gravity);
            let landed = walk.events.iter().find_map(|e| match e.kind {
                EventKind::Landed { speed, .. } => Some((e.time, f64::from(speed))),
                _ => None,
            });
            let (time, speed) = landed.expect("a landing");
            assert!((speed - (20.0 * gravity).sqrt()).abs() < 1e-4 * speed, "{rate} Hz: {speed}");
            assert!((time - (20.0 / gravity).sqrt()).abs() < 1e-4, "{rate} Hz: {time}");
        }
    }
}

#[test]
fn diagonals_are_no_faster_and_an_analogue_stick_walks() {
    for _ in every_frame() {
        let speed_of = |heading: Vec3| {
            let mut walk = on_a_floor([0.0; 3]);
            walk.go(1.0 / 60.0, 1.0, Intent::toward(heading));
            walk.hero.velocity.length()
        };
        let full = speed_of(Vec3::X);
        assert!((speed_of(Vec3::new(1.0, 0.0, 1.0)) - full).abs() < 1e-6);
        assert!((speed_of(Vec3::new(0.3, 0.0, 0.0)) - 0.3 * full).abs() < 1e-6);
        assert_eq!(speed_of(Vec3::X + Vec3::NEG_X), 0.0);
    }
}

#[test]
fn no_axis_is_special() {
    for _ in every_frame() {
        // The same walk and jump with gravity along +x, and along an oblique axis.
        for up in [Vec3::NEG_X, Vec3::new(0.48, -0.6, 0.64)] {
            let normal = up.as_dvec3();
            let world = World::new().plane(newel::glam::DVec3::new(3.0, -2.0, 5.0), normal, 100.0);
            let tuning = Tuning::walker();
            let mesh = world.mesh();
            let start = newel::Spawn::at(newel::glam::DVec3::new(3.0, -2.0, 5.0)).up(up);
            let hero = newel::Character::spawn(&mesh, &tuning, start).unwrap();
            let mut runner = newel::Runner::new(hero.clone());
            let ahead = hero.facing;
            let mut tops = Vec::new();
            for frame in 0..120 {
                let mut intent = Intent::toward(ahead);
                if frame == 60 {
                    intent = intent.hold(Button::Jump);
                }
                let hear = |tick: &newel::Ticked<'_>| {
                    tops.extend(tick.events().iter().filter(|e| e.kind == EventKind::Topped).map(|e| e.place));
                };
                runner.advance(1.0 / 60.0, &mesh, &tuning, |_| intent, hear).unwrap();
            }
            let off = runner.character.position - start.position;
            assert!((off.dot(ahead.as_dvec3()) - off.length()).abs() < 1e-3, "straight ahead: {off}");
            let height = (tops[0] - start.position).dot(normal);
            assert!((height - 1.1).abs() < 1.1e-3, "{height}");
        }
    }
}
