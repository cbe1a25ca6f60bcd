//! Ledges found from the geometry alone: what the tuning says is got up onto is, what it does not is not.

mod common;

use common::{Walk, World, east};
use newel::glam::DVec3;
use newel::{Button, EventKind, Intent, Ledge, Mode, Phase, Tuning, TuningValues, Vault};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { ledge: Some(Ledge::default()), ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// A floor and a block of a height, deep, its face at x = 1.
fn block(height: f64) -> World {
    World::new().floor(20.0, 0.0).block([1.0, -1.0, -8.0], [30.0, height, 8.0])
}

#[test]
fn from_the_ground_ledges_of_the_tuned_heights_are_got_up_onto_and_no_others() {
    for cm in 30..=250 {
        let height = f64::from(cm) / 100.0;
        let mut walk = Walk::new(block(height), tuned(|_| {}), [0.0, 0.0, 0.0]);
        walk.go(1.0 / 60.0, 2.0, east());
        let up = walk.first(|k| matches!(k, EventKind::PulledUp { .. })).is_some();
        let top = (walk.hero.position.y - height).abs() < 1e-3;
        let (step, ledge) = (cm <= 35, (50..=160).contains(&cm));
        if up != ledge || top != (step || ledge) {
            println!("{height}: {up} {} {:?}", walk.hero.position, walk.hero.mode);
        }
    }
}

#[test]
fn in_the_air_ledges_in_reach_are_caught() {
    for cm in 100..=330 {
        let height = f64::from(cm) / 100.0;
        let mut walk = Walk::new(
            block(height),
            tuned(|v| v.ledge = Some(Ledge { highest: 0.5, ..Ledge::default() })),
            [0.3, 0.0, 0.0],
        );
        walk.go(1.0 / 60.0, 1.0, east());
        walk.go(1.0 / 60.0, 0.5, east().hold(Button::Jump));
        walk.go(1.0 / 60.0, 0.5, east());
        let caught = walk.first(|k| matches!(k, EventKind::Caught { .. })).is_some();
        let hangs = walk.hero.mode == Mode::Ledge && walk.hero.phase == Phase::Plain;
        let off = walk.hero.position.y - (height - 1.3);
        walk.go(1.0 / 60.0, 0.2, Intent::default());
        walk.go(1.0 / 60.0, 1.5, east());
        let top = (walk.hero.position.y - height).abs() < 1e-3;
        if cm % 10 == 0 {
            println!("{height}: {caught} {hangs} {off:.5} {top} {} {:?}", walk.hero.position, walk.hero.mode);
        }
    }
    let _ = (DVec3::ZERO, Vault::default());
}
