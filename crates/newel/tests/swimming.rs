//! Swimming: floating comes to rest, depths and speeds are those of the formulas, and water is entered and left once each way, at the
//! same place at every tick rate.

mod common;

use common::scenes::Ascent;
use common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Effect, EventKind, Intent, Mode, Off, Scene, Stance, Swell, Swim, Tuning, TuningValues, Water, Zone,
};

/// Up to this height there is water.
const LEVEL: f64 = 0.0;

fn tuned(change: impl Fn(&mut Swim)) -> Tuning {
    let mut swim = Swim::default();
    change(&mut swim);
    Tuning::new(TuningValues { swim: Some(swim), ..TuningValues::default() }).expect("a tuning")
}

/// Water up to `LEVEL`, as wide and deep as can be, waving as high as a metre.
fn sea(water: Water) -> Zone {
    let (min, max) = (DVec3::new(-500.0, -100.0, -500.0), DVec3::new(500.0, LEVEL + 1.0, 500.0));
    Zone::new(1, min, max, Effect::Water(water))
}

fn still() -> Water {
    Water::flat(DVec3::Y * LEVEL, Vec3::Y)
}

/// A basin this deep.
fn basin(depth: f64) -> Scene {
    Scene::new().with(World::new().floor(400.0, LEVEL - depth).mesh())
}

fn modes(swim: &Ascent) -> Vec<(EventKind, f64)> {
    let of_mode = |k: &EventKind| {
        matches!(
            k,
            EventKind::SwimBegan | EventKind::SwimEnded | EventKind::Landed { .. } | EventKind::LeftGround { .. }
        )
    };
    swim.events.iter().filter(|e| of_mode(&e.kind)).map(|e| (e.kind, e.time)).collect()
}

#[test]
fn it_floats_up_to_its_line_and_comes_to_rest_there() {
    let ends = SIX_RATES.map(|rate| {
        let mut swim = Ascent::new(basin(9.0).with_zone(sea(still())), tuned(|_| {}), [0.0, -4.0, 0.0]);
        swim.until(40.0, rate, Intent::default());
        println!("{rate}: {:?} {} {}", swim.hero.mode, swim.hero.position, swim.hero.velocity);
        for e in &swim.events {
            println!("  {:.4} {:?} {}", e.time, e.kind, e.place.y);
        }
        let before = swim.hero;
        swim.until(100.0, rate, Intent::default());
        assert_eq!((before.position, before.velocity), (swim.hero.position, DVec3::ZERO), "{rate} Hz");
        before.position.y
    });
    println!("{ends:?}");
}

#[test]
fn dives() {
    for height in [1.0, 5.0, 20.0] {
        for rate in SIX_RATES {
            let mut swim = Ascent::new(basin(60.0).with_zone(sea(still())), tuned(|_| {}), [0.0, height, 0.0]);
            swim.until(6.0, rate, Intent::default());
            let lowest = swim.events.iter().map(|e| e.place.y).fold(0.0, f64::min);
            println!("{height} {rate}: {} {}", swim.hero.position.y, swim.hero.velocity.y);
            if rate == 15.0 {
                for e in &swim.events {
                    println!("  {:.4} {:?} {}", e.time, e.kind, e.place.y);
                }
            }
        }
    }
}

#[test]
fn speeds() {
    for (name, intent) in [
        ("level", Intent::toward(Vec3::X)),
        ("rise", Intent::default().hold(Button::Jump)),
        ("dive", Intent::default().in_stance(Stance::Crouch)),
        ("view down", Intent::new(newel::Heading::View(newel::glam::Vec2::Y)).looking(Vec3::new(0.6, -0.8, 0.0))),
    ] {
        for rate in SIX_RATES {
            let mut swim = Ascent::new(basin(90.0).with_zone(sea(still())), tuned(|s| s.idle = 0.0), [0.0, -50.0, 0.0]);
            swim.until(3.0, rate, intent);
            let a = swim.hero;
            swim.until(9.0, rate, Intent::default());
            println!(
                "{name} {rate}: {} {:?} -> {} {:?}",
                a.position, a.velocity, swim.hero.position, swim.hero.velocity
            );
        }
    }
}

#[test]
fn waves() {
    for rate in SIX_RATES {
        let swell = Swell { along: Vec3::X, height: 0.8, length: 14.0, period: 3.0, since: 0.0 };
        let mut swim =
            Ascent::new(basin(90.0).with_zone(sea(still().with_swell(swell))), tuned(|_| {}), [0.0, -1.53, 0.0]);
        swim.until(10.0, rate, Intent::default());
        let mut worst = (0.0f64, 0.0f64);
        for i in 0..1200 {
            let t = 10.0 + (i + 1) as f64 / 60.0;
            let intent = if i < 600 { Intent::default() } else { Intent::toward(Vec3::X) };
            swim.until(t, rate, intent);
            let lift = swell.lift(swim.hero.position, t);
            let off = (swim.hero.position.y + 1.53 - lift).abs();
            if i < 600 {
                worst.0 = worst.0.max(off)
            } else {
                worst.1 = worst.1.max(off)
            };
        }
        println!(
            "{rate}: off {worst:?} {} {:?}",
            swim.hero.position,
            swim.events.iter().map(|e| e.kind).collect::<Vec<_>>()
        );
    }
}

#[test]
fn bobbing() {
    for rate in SIX_RATES {
        let tuning = tuned(|s| {
            s.drag = 0.0;
        });
        let mut swim = Ascent::new(basin(9.0).with_zone(sea(still())), tuning, [0.0, -1.33, 0.0]);
        let stiff = tuning.falling_gravity() / 1.53;
        let energy = |h: &newel::Character| 0.5 * h.velocity.y.powi(2) + 0.5 * stiff * (h.position.y + 1.53).powi(2);
        swim.until(1.0, rate, Intent::default());
        let before = energy(&swim.hero);
        swim.until(61.0, rate, Intent::default());
        println!(
            "{rate}: {before} {} {:?}",
            energy(&swim.hero) / before - 1.0,
            swim.events.iter().map(|e| e.kind).collect::<Vec<_>>()
        );
    }
}
#[test]
fn walks_in_and_out() {
    for slope in [2.0f64, 10.0, 20.0, 40.0] {
        for rate in SIX_RATES {
            let n = DVec3::new(-slope.to_radians().sin(), slope.to_radians().cos(), 0.0);
            let scene = Scene::new().with(World::new().plane(DVec3::ZERO, n, 200.0).mesh()).with_zone(sea(still()));
            let x = 0.4 / slope.to_radians().tan();
            let mut swim = Ascent::new(scene, tuned(|_| {}), [x, 0.5, 0.0]);
            let long = 4.0 + 8.0 / slope.to_radians().tan() * 0.35;
            swim.until(long, rate, Intent::toward(Vec3::NEG_X));
            let deep = swim.hero.position;
            swim.until(3.0 * long + 10.0, rate, Intent::toward(Vec3::X));
            println!("slope {slope} {rate}: deepest {deep} end {:?} {}", swim.hero.mode, swim.hero.position);
            for (k, t) in modes(&swim) {
                let e = swim.events.iter().find(|e| e.time == t).unwrap();
                println!("  {t:.4} {k:?} {}", e.place);
            }
        }
    }
}
