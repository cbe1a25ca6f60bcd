//! Driven to a place: it stops there, exactly and without going past, by the formula and at any tick rate.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{EventKind, Heading, Intent, Tuning, TuningValues};

fn to(place: DVec3) -> Intent {
    Intent::new(Heading::To { place, speed: 1.0 })
}

/// Gains 30, stops at 35 and turns about at 45 m/s², as the plain walker does, up to 4.5 m/s.
const TOP: f64 = 4.5;

/// Seconds from a speed toward it, or away from it, to rest at a place `far` ahead.
fn seconds(from: f64, far: f64) -> f64 {
    let (gain, loss, reversal) = (30.0, 35.0, 45.0);
    if from < 0.0 {
        return -from / reversal + seconds(0.0, far + from * from / (2.0 * reversal));
    }
    // The speed at which braking begins, were there no top.
    let peak = ((2.0 * far + from * from / gain) / (1.0 / gain + 1.0 / loss)).sqrt().min(TOP);
    let ways = (peak * peak - from * from) / (2.0 * gain) + peak * peak / (2.0 * loss);
    (peak - from) / gain + peak / loss + (far - ways).max(0.0) / peak
}

/// Ticks to a place until it stands; how long that took, and how far past the place it was at most, along `way`.
fn drive(walk: &mut Walk, rate: f64, place: DVec3, way: DVec3) -> (f64, f64) {
    let (start, mut past) = (walk.hero.clock, f64::NEG_INFINITY);
    let mut still = 0;
    while still < 3 && walk.hero.clock < start + 20.0 {
        walk.tick(1.0 / rate, to(place));
        past = past.max((walk.hero.position - place).dot(way));
        let left = walk.hero.position - place;
        let there = DVec3::new(left.x, 0.0, left.z).length() < 1e-3;
        still = if walk.hero.velocity == DVec3::ZERO && there { still + 1 } else { 0 };
    }
    (walk.hero.clock - start - 2.0 / rate, past)
}

#[test]
fn from_rest_and_from_a_run_ahead_and_behind_it_stops_there_by_the_formula() {
    for _ in every_frame() {
        for rate in SIX_RATES {
            for (running, goal) in
                [(0.0, 0.03), (0.0, 0.3), (0.0, 7.3), (1.0, 5.0), (1.0, -5.0), (1.0, 0.3), (1.0, 20.0)]
            {
                let mut walk = Walk::new(World::new().floor(60.0, 0.0), Tuning::walker(), [0.0; 3]);
                walk.go(1e-3, 0.7 * running, Intent::toward(Vec3::X));
                let start = walk.hero.clone();
                let (place, way) = (start.position + DVec3::X * goal, DVec3::X * goal.signum());
                let (took, past) = drive(&mut walk, rate, place, way);
                let formula = seconds(start.velocity.x * goal.signum(), goal.abs());
                let off = (walk.hero.position - place).length();
                assert!(off < 1e-6 && past < 1e-6, "{rate} Hz, {goal} m: {off} m off, {past} past");
                // It is asked at the end of each tick.
                let late = took - formula;
                assert!((-1e-3..1.0 / rate + 1e-3).contains(&late), "{rate} Hz, {goal} m: {took} s, {formula}");
                assert!(walk.first(|k| matches!(k, EventKind::TimeDropped { .. })).is_none());
            }
        }
    }
}

#[test]
fn beside_a_run_it_turns_there_the_same_way_at_every_rate() {
    for goal in [DVec3::new(0.0, 0.0, 5.0), DVec3::new(3.0, 0.0, -4.0), DVec3::new(-2.0, 0.0, 3.0)] {
        let ways = SIX_RATES.map(|rate| {
            let mut walk = Walk::new(World::new().floor(60.0, 0.0), Tuning::walker(), [0.0; 3]);
            walk.go(1e-3, 0.7, Intent::toward(Vec3::X));
            let place = walk.hero.position + goal;
            let end = walk.hero.clock + 0.5;
            while walk.hero.clock < end - 1e-9 {
                let dt = (1.0 / rate).min(end - walk.hero.clock);
                walk.tick(dt, to(place));
            }
            let half_way = walk.hero.position;
            let (took, _) = drive(&mut walk, rate, place, DVec3::ZERO);
            assert!((walk.hero.position - place).length() < 1e-6, "{rate} Hz: {}", walk.hero.position - place);
            (half_way, took)
        });
        for (rate, (half_way, took)) in SIX_RATES.iter().zip(ways) {
            let apart = (half_way - ways[5].0).length();
            assert!(
                apart < 2e-3 && (took - ways[5].1).abs() < 1.0 / rate + 2e-3,
                "{rate} Hz: {apart} m, {took} s: {ways:?}"
            );
        }
    }
}

#[test]
fn any_goal_from_any_run_by_any_tuning_is_come_to_on_any_slope() {
    let (mut drives, mut slowest) = (0, 0.0f64);
    for seed in 0..400 {
        let mut dice = Dice(seed * 31 + 5);
        let preset = Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())];
        let mut values: TuningValues = *Tuning::preset(preset).unwrap().values();
        (values.ground.uphill, values.ground.downhill) = ([1.0, 0.6][dice.pick(2)], [1.0, 1.2][dice.pick(2)]);
        let tuning = Tuning::new(values).unwrap();
        let angle = [0.0, dice.between(-0.6, 0.6)][dice.pick(2)];
        let normal = DVec3::new(-angle.sin(), angle.cos(), 0.0);
        let ground = World::new().plane(DVec3::ZERO, normal, 90.0);
        let Some(mut walk) = Walk::try_new(ground, tuning, [0.0, 0.01 + 0.4 * (1.0 / angle.cos() - 1.0), 0.0]) else {
            continue;
        };
        let rate = SIX_RATES[dice.pick(6)];
        let way = dice.direction().as_vec3();
        walk.go(1.0 / 60.0, dice.between(0.0, 1.5), Intent::toward(Vec3::new(way.x, 0.0, way.z)));
        let aside = DVec3::new(dice.direction().x, 0.0, dice.direction().z) * dice.magnitude(0.02, 15.0);
        let goal = walk.hero.position + aside - DVec3::Y * (normal.x * aside.x / normal.y);
        let (took, _) = drive(&mut walk, rate, goal, DVec3::ZERO);
        let left = walk.hero.position - goal;
        let off = DVec3::new(left.x, 0.0, left.z).length();
        assert!(
            off < 1.1e-4 && walk.hero.velocity == DVec3::ZERO,
            "seed {seed}, {preset} at {rate} Hz: {off} m off after {took} s, {}",
            walk.hero.velocity
        );
        // Half as much again as at full speed from rest, however it ran before.
        let most = 1.5 * aside.length() / f64::from(values.ground.speed) / 0.6
            + if values.ground.ease.is_some() { 4.0 } else { 1.5 };
        assert!(took < most, "seed {seed}, {preset} at {rate} Hz: {took} s for {} m", aside.length());
        drives += 1;
        slowest = slowest.max(took);
    }
    println!("{drives} drives, the longest {slowest:.1} s");
    assert!(drives > 300);
}

/// How far past a place it goes along `way`, guarded or not, and that it stands there in the end.
fn past(walk: &mut Walk, rate: f64, place: DVec3, way: DVec3, guard: bool) -> f64 {
    let mut past = f64::NEG_INFINITY;
    for _ in 0..(6.0 * rate) as usize {
        walk.tick(1.0 / rate, if guard { to(place).guarded() } else { to(place) });
        past = past.max((walk.hero.position - place).dot(way));
    }
    assert_eq!(walk.hero.velocity, DVec3::ZERO, "{rate} Hz");
    past
}

#[test]
fn where_a_slope_ends_short_of_the_place_it_does_not_go_past() {
    // Down 40 degrees, and on the level from x = 0: along the slope the place seems farther than it turns out to be.
    let (run, rise) = (8.0, 8.0 * 40f64.to_radians().tan());
    let p = DVec3::new;
    let slope = World::new().quad(p(-run, rise, -9.0), p(-run, rise, 9.0), p(0.0, 0.0, 9.0), p(0.0, 0.0, -9.0));
    let land = slope.quad(p(0.0, 0.0, -9.0), p(0.0, 0.0, 9.0), p(9.0, 0.0, 9.0), p(9.0, 0.0, -9.0));
    // And pressed to a wall along the way.
    let aside = -f64::from(Tuning::walker().shape().radius);
    let walled = land.clone().quad(p(-run, -1.0, aside), p(9.0, -1.0, aside), p(9.0, 9.0, aside), p(-run, 9.0, aside));
    for (land, presses) in [(land, 0.0), (walled, 1e-4)] {
        for (rate, beyond) in SIX_RATES.iter().flat_map(|rate| [0.05, 0.15, 0.25, 0.35].map(|beyond| (*rate, beyond))) {
            let start = [-5.0, 5.0 * 40f64.to_radians().tan() + 0.1, 0.1];
            let mut walk = Walk::new(land.clone(), Tuning::walker(), start);
            walk.go(1.0 / 60.0, 1.0, Intent::toward(Vec3::NEG_Z));
            walk.go(1.0 / 60.0, 0.5, Intent::default());
            let beside = walk.hero.position.z - presses;
            let past = past(&mut walk, rate, p(beyond, 0.0, beside), DVec3::X, false);
            assert!(past < 1e-3, "{rate} Hz, {beyond} m beyond the slope, {presses} m into the wall: {past} m past");
        }
    }
}

#[test]
fn along_a_lip_it_slows_for_the_place_too() {
    // A roof that ends at x = 0: from one place at its lip to another, as far out as a guarded foot goes.
    let p = DVec3::new;
    let roof = World::new().quad(p(-9.0, 0.0, -9.0), p(-9.0, 0.0, 9.0), p(0.0, 0.0, 9.0), p(0.0, 0.0, -9.0));
    for rate in SIX_RATES {
        let mut walk = Walk::new(roof.clone(), Tuning::walker(), [-0.3, 0.0, -5.0]);
        walk.go(1.0 / 60.0, 1.0, Intent::toward(Vec3::X).guarded());
        let place = walk.hero.position + DVec3::Z * 7.0;
        let past = past(&mut walk, rate, place, DVec3::Z, true);
        assert!(past < 0.015, "{rate} Hz: {past} m past");
        assert!((walk.hero.position - place).length() < 1e-3, "{rate} Hz: it stands at {}", walk.hero.position);
    }
}
