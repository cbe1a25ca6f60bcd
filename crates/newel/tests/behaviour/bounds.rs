//! The limits of a level: stopping, going on at the other side, being led back, and being reported.

use crate::common::{SIX_RATES, Walk, World};
use newel::glam::{DVec3, Vec3};
use newel::{AtBounds, Bounds, Command, Intent, Mode, Modifiers, Runner, Tick, Tuning, Workspace};

fn across(at: AtBounds) -> Bounds {
    Bounds::across([-6.0, -4.0], [6.0, 4.0], at)
}

fn field() -> World {
    World::new().floor(60.0, 0.0)
}

#[test]
fn walls_that_nobody_sees_stop_it_exactly_and_it_goes_along_them() {
    let (level, tuning) = (field().mesh(), Tuning::walker());
    for rate in SIX_RATES {
        let mut hero = Runner::spawn(&level, &tuning, [0.0; 3]).unwrap().with_rate(rate).unwrap();
        let bounded = across(AtBounds::Stops);
        for _ in 0..(4.0 * rate) as usize {
            let going = |_: &newel::Before<'_>| Intent::toward(Vec3::new(1.0, 0.0, 0.4));
            hero.advance(1.0 / rate, &bounded.around(&level), &tuning, going, |_| {}).unwrap();
        }
        let at = hero.character.position;
        assert!((at.x - 5.7).abs() < 1e-4 && (at.z - 3.7).abs() < 1e-4, "{rate} Hz: {at}: in the corner");
        assert!(bounded.crossed(&hero.character).is_none());
    }
}

#[test]
fn nothing_gets_out_at_any_speed_or_through_the_air() {
    let (level, tuning) = (field().mesh(), Tuning::walker());
    let bounds = Bounds::new(DVec3::new(-6.0, -1.0, -4.0), DVec3::new(6.0, 9.0, 4.0), AtBounds::Stops);
    let mut work = Workspace::new();
    let mut dice = crate::common::oracle::Dice(11);
    let mut hero = newel::Character::spawn(&level, &tuning, [0.0; 3]).unwrap();
    for number in 0..4000 {
        let throw = newel::Launch::at((dice.direction() * dice.magnitude(1.0, 900.0)).as_vec3().as_dvec3());
        let commands = if number % 5 == 0 { vec![Command::Launch(throw)] } else { Vec::new() };
        let tick = Tick {
            number,
            terrain: &bounds.around(&level),
            tuning: &tuning,
            modifiers: &Modifiers::default(),
            dt: 0.05,
        };
        tick.step(&mut work, &mut hero, &Intent::default(), &commands).unwrap();
        let head = hero.position + DVec3::Y * 1.8;
        assert!(bounds.out(hero.position) == DVec3::ZERO && bounds.out(head).length() < 1e-3, "{:?}", hero.position);
    }
}

#[test]
fn it_goes_on_at_the_other_side_with_its_velocity_and_is_drawn_without_a_streak() {
    let (level, tuning) = (field().mesh(), Tuning::walker());
    let bounds = across(AtBounds::Wraps);
    for rate in [15.0, 60.0, 240.0] {
        let mut hero = Runner::spawn(&level, &tuning, [0.0; 3]).unwrap().with_rate(rate).unwrap();
        let (mut wraps, mut gone, mut last) = (0, 0.0, hero.character.position);
        for _ in 0..(20.0 * rate) as usize {
            let speed = hero.character.velocity.length();
            if let Some(crossed) = bounds.crossed(&hero.character) {
                assert!(crossed.side == Vec3::X && crossed.by <= 4.5 / rate + 1e-9, "{crossed:?}");
                hero.command(crossed.command.unwrap());
                wraps += 1;
            }
            hero.advance(1.0 / rate, &level, &tuning, |_| Intent::toward(Vec3::X), |_| {}).unwrap();
            let moved = hero.character.position - last;
            gone += moved.x.rem_euclid(12.0);
            last = hero.character.position;
            assert!(hero.character.mode == Mode::Ground && hero.character.velocity.length() >= speed - 1e-6);
            let drawn = hero.pose().position;
            assert!((drawn - hero.character.position).length() <= 4.5 / rate + 1e-9, "{rate} Hz: drawn at {drawn}");
        }
        assert!(
            wraps == 7 && (gone - (20.0 * 4.5 - 0.5 * 4.5 * 4.5 / 30.0)).abs() < 1e-6,
            "{rate} Hz: {wraps}, {gone} m"
        );
    }
}

#[test]
fn it_is_led_back_or_only_reported() {
    for rate in SIX_RATES {
        let mut walk = Walk::new(field(), Tuning::walker(), [0.0; 3]);
        let bounds = across(AtBounds::TurnsBack);
        let mut farthest = 0.0f64;
        for _ in 0..(8.0 * rate) as usize {
            let intent = bounds.drive(Intent::toward(Vec3::X), &walk.hero);
            walk.tick(1.0 / rate, intent);
            farthest = farthest.max(bounds.out(walk.hero.position).length());
        }
        // A tick to see it, and its way to stop.
        let most = 4.5 / rate + 4.5 * 4.5 / (2.0 * 30.0) + 0.05;
        assert!(farthest > 0.0 && farthest < most, "{rate} Hz: {farthest} m out");
    }
    let mut walk = Walk::new(field(), Tuning::walker(), [0.0; 3]);
    let bounds = across(AtBounds::Reports);
    walk.go(1.0 / 60.0, 3.0, bounds.drive(Intent::toward(Vec3::X), &walk.hero));
    let crossed = bounds.crossed(&walk.hero).unwrap();
    assert!(
        crossed.command.is_none()
            && crossed.side == Vec3::X
            && (crossed.by - (walk.hero.position.x - 6.0)).abs() < 1e-12
    );
}
