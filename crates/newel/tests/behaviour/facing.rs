//! Where the body looks: from every heading to every heading, the short way, without overshoot and without a snap.

use crate::common::script::Script;
use crate::common::{Walk, World, every_frame, every_frame_and_upside_down, sample};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{Button, Change, Face, Heading, Intent, Spawn, Toward, Tuning, TuningValues};

/// The four rates of these tests.
const RATES: [f64; 4] = [15.0, 60.0, 240.0, 1000.0];

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    values.turn.rate = 300.0;
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

fn on_a_floor(tuning: Tuning) -> Walk {
    Walk::new(World::new().floor(200.0, 0.0), tuning, [0.0; 3])
}

fn way(degrees: f64) -> Vec3 {
    let angle = degrees.to_radians();
    DVec3::new(angle.sin(), 0.0, angle.cos()).as_vec3()
}

/// The angle between two unit vectors, degrees.
fn apart(a: Vec3, b: Vec3) -> f64 {
    let (a, b) = (a.as_dvec3(), b.as_dvec3());
    a.cross(b).length().atan2(a.dot(b)).to_degrees()
}

#[test]
fn from_every_heading_to_every_heading_at_the_tuned_rate_and_never_past_it() {
    for _ in every_frame_and_upside_down() {
        let tuning = tuned(|_| {});
        for rate in RATES {
            let mut walk = on_a_floor(tuning);
            for (from, to) in (0..24).step_by(24 / sample(24) as usize).flat_map(|a| (0..24).map(move |b| (a, b))) {
                let (from, to) = (way(15.0 * f64::from(from)), way(15.0 * f64::from(to)));
                walk.go(1.0 / rate, 0.65, Intent::toward(from));
                assert!(apart(walk.hero.facing, from) < 1e-4, "{rate} Hz: {} {from}", walk.hero.facing);
                let mut left = apart(walk.hero.facing, to);
                for _ in 0..(0.1 * rate) as u32 + 1 {
                    walk.tick(1.0 / rate, Intent::toward(to));
                    let now = apart(walk.hero.facing, to);
                    let turned = (left - now).abs();
                    assert!(now <= left + 1e-4 && turned < 300.0 / rate + 1e-3, "{rate} Hz, {from} to {to}: {turned}");
                    assert!(now < 1e-4 || (turned - 300.0 / rate).abs() < 1e-3, "{rate} Hz, {from} to {to}: {turned}");
                    left = now;
                }
                // Half way there, whatever the input was, letting go leaves the facing to the bit.
                let kept = walk.real.facing;
                walk.go(1.0 / rate, 0.2, Intent::default());
                assert_eq!(walk.real.facing, kept);
            }
        }
    }
}

#[test]
fn exactly_opposite_is_to_the_left_and_the_lightest_stick_turns_all_the_way() {
    for _ in every_frame_and_upside_down() {
        for degrees in 0..36 {
            let (from, to) = (way(10.0 * f64::from(degrees)), way(10.0 * f64::from(degrees) + 180.0));
            let mut walk = on_a_floor(tuned(|_| {}));
            walk.go(1.0 / 60.0, 1.0, Intent::toward(from));
            walk.tick(1.0 / 60.0, Intent::toward(to * 1e-6));
            assert!(walk.hero.facing.dot(Vec3::Y.cross(from)) > 0.05, "from {from}: {}", walk.hero.facing);
            assert!((walk.readout.unwrap().turn_rate - 300.0).abs() < 0.1, "{:?}", walk.readout);
            walk.go(1.0 / 60.0, 1.0, Intent::toward(to * 1e-6));
            assert!(apart(walk.hero.facing, to) < 1e-3);
        }
    }
}

#[test]
fn an_eased_turn_follows_its_formula_at_every_rate() {
    for rate in RATES {
        let mut walk = on_a_floor(tuned(|v| v.turn.ease = Some(0.15)));
        walk.go(1.0 / rate, 2.0, Intent::toward(way(0.0)));
        for _ in 0..(0.4 * rate) as u32 {
            let start = walk.hero.clock;
            walk.tick(1.0 / rate, Intent::toward(way(120.0)));
            let left = 120.0 * (-(start + 1.0 / rate - 2.0) / 0.15).exp();
            assert!((apart(walk.hero.facing, way(120.0)) - left).abs() < 0.01, "{rate} Hz: {left}");
        }
    }
}

#[test]
fn gravity_turns_nobody() {
    for _ in every_frame() {
        let mut walk = Walk::new(World::new().floor(50.0, 0.0), tuned(|_| {}), [0.0, 30.0, 0.0]);
        let facing = walk.real.facing;
        walk.go(1.0 / 60.0, 1.5, Intent::default());
        assert!(walk.airborne() && walk.real.facing == facing);
        let jumping = Intent::toward(way(90.0)).hold(Button::Jump);
        walk.go(1.0 / 60.0, 2.0, jumping);
        assert!(apart(walk.hero.facing, way(90.0)) < 1e-3);
    }
}

#[test]
fn it_turns_to_what_the_tuning_or_the_intent_says() {
    let toward = |t: Toward| tuned(move |v| v.turn.toward = t);
    let north = |tuning: Tuning, intent: Intent| {
        let mut walk = on_a_floor(tuning);
        walk.go(1.0 / 60.0, 1.0, intent);
        walk
    };
    let east = Intent::toward(Vec3::X).looking(Vec3::new(0.0, -3.0, 2.0));
    let looks = |tuning, intent| north(tuning, intent).hero.facing;
    assert!(apart(looks(toward(Toward::View), east), Vec3::Z) < 1e-3);
    assert!(apart(looks(toward(Toward::View), Intent::default().looking(Vec3::X)), Vec3::X) < 1e-3, "standing too");
    assert_eq!(looks(toward(Toward::Nothing), east), Vec3::NEG_Z);
    assert!(apart(looks(toward(Toward::Nothing), east.facing(Face::Movement)), Vec3::X) < 1e-3);
    let point = DVec3::new(10.0, 4.0, 10.0);
    let walk = north(toward(Toward::Movement), east.facing(Face::Point(point)));
    let to = point - walk.hero.position;
    assert!(apart(walk.hero.facing, DVec3::new(to.x, 0.0, to.z).normalize().as_vec3()) < 1.0, "{}", walk.hero.facing);
    let readout = walk.readout.unwrap();
    assert!((readout.speed - 4.5).abs() < 1e-5 && (readout.ahead.hypot(readout.right) - 4.5).abs() < 1e-4);
    // Right of where it looks is a negative angle: to the left is positive.
    assert!(readout.angle > 0.0 && readout.right < 0.0, "{readout:?}");
}

#[test]
fn in_a_side_view_it_flips_at_once_and_a_stick_is_read_off_the_screen() {
    let mesh = World::new().floor(50.0, 0.0).mesh();
    let tuning = tuned(|v| v.turn.toward = Toward::Sides);
    let spawn = Spawn::at([0.0; 3]).in_plane(Vec3::Z).facing(Vec3::X);
    let mut runner = newel::Runner::spawn(&mesh, &tuning, spawn).expect("a clear place");
    let screen = |x: f32| Intent::new(Heading::Plane(Vec2::new(x, 0.9)));
    for (stick, facing) in [(1.0, Vec3::X), (-1e-3, Vec3::NEG_X), (0.0, Vec3::NEG_X), (0.4, Vec3::X)] {
        runner.advance(1.0 / 60.0, &mesh, &tuning, |_| screen(stick), |_| {}).expect("a tick");
        assert_eq!(runner.character.facing, facing, "stick {stick}");
    }
    assert_eq!(runner.character.position.z, 0.0);
}

#[test]
fn turning_and_going_draws_the_same_circle_at_every_rate() {
    let script = Script::new()
        .at(0.0, Change::Heading(Heading::TurnAndGo(Vec2::new(0.3, 1.0))))
        .at(2.03, Change::Heading(Heading::TurnAndGo(Vec2::new(-0.5, 0.6))))
        .at(4.11, Change::Heading(Heading::TurnAndGo(Vec2::new(1.0, 0.0))));
    for _ in every_frame() {
        let circle = |rate: f64| {
            let mut walk = on_a_floor(tuned(|v| v.turn.rate = 180.0));
            walk.play(&script, 1.0 / rate, 2.0);
            let facing = walk.hero.facing;
            walk.play(&script, 1.0 / rate, 5.0);
            (facing, walk.hero)
        };
        let (facing, exact) = circle(1000.0);
        // 54 degrees a second to the right, from -Z.
        assert!(apart(facing, way(180.0 - 108.0)) < 1e-3, "{facing}");
        for rate in RATES {
            let (_, hero) = circle(rate);
            let off = (hero.position - exact.position).length();
            assert!(off < 1e-3 && apart(hero.facing, exact.facing) < 1e-2, "{rate} Hz: {off}");
        }
    }
}
