//! Swimming: floating comes to rest, depths and speeds are those of the formulas, and water is entered and left once each way, at the
//! same place at every tick rate.

use crate::common::scenes::Ascent;
use crate::common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Effect, EventKind, Heading, Hover, Intent, Ledge, Mode, Off, Scene, Stance, Swell, Swim, Takes,
    Tuning, TuningValues, Water, Zone,
};

/// Where the default swimmer floats: its feet this deep.
const FLOATS: f64 = 0.85 * 1.8;

fn tuned(change: impl Fn(&mut Swim)) -> Tuning {
    let mut swim = Swim::default();
    change(&mut swim);
    Tuning::new(TuningValues { swim: Some(swim), ..TuningValues::default() }).expect("a tuning")
}

/// Water up to a level of 0, as wide and deep as can be, waving up to a metre high.
fn sea(water: Water) -> Zone {
    let (min, max) = (DVec3::new(-900.0, -100.0, -900.0), DVec3::new(900.0, 1.0, 900.0));
    Zone::new(1, min, max, Effect::Water(water))
}

fn still() -> Water {
    Water::flat(DVec3::ZERO, Vec3::Y)
}

/// A basin this deep, full to the level.
fn basin(depth: f64) -> Scene {
    Scene::new().with(World::new().floor(800.0, -depth).mesh()).with_zone(sea(still()))
}

fn swimmer(tuning: Tuning, at: [f64; 3]) -> Ascent {
    Ascent::new(basin(90.0), tuning, at)
}

fn count(swim: &Ascent, is: impl Fn(&EventKind) -> bool) -> usize {
    swim.events.iter().filter(|e| is(&e.kind)).count()
}

/// How far a glide goes that starts at `speed`, with this drag per second and this much stopping, m/s²; and how long it takes.
fn glide(speed: f64, drag: f64, stops: f64) -> (f64, f64) {
    let time = (1.0 + drag * speed / stops).ln() / drag;
    (speed / drag - stops / drag * time, time)
}

#[test]
fn it_floats_up_to_its_line_and_rests_there_to_the_bit() {
    for rate in SIX_RATES {
        let mut swim = swimmer(tuned(|_| {}), [0.0, -4.0, 0.0]);
        swim.until(20.0, rate, Intent::default());
        let settled = swim.hero.clone();
        assert!((settled.position.y + FLOATS).abs() < 2e-4, "{rate} Hz: {}", settled.position.y);
        swim.until(80.0, rate, Intent::default());
        assert_eq!((settled.position, DVec3::ZERO), (swim.hero.position, swim.hero.velocity), "{rate} Hz");
        assert_eq!(count(&swim, |k| matches!(k, EventKind::SwimBegan)), 1, "{rate} Hz: {:?}", swim.events);
        swim.until(80.3, rate, Intent::toward(Vec3::X * 0.01));
        assert!(swim.hero.position.x > 0.0, "the least stroke moves it");
    }
}

#[test]
fn undamped_it_bobs_for_ever() {
    for rate in SIX_RATES {
        let tuning = tuned(|s| s.drag = 0.0);
        let mut swim = swimmer(tuning, [0.0, -1.3, 0.0]);
        let stiffness = tuning.falling_gravity() / FLOATS;
        let energy = |hero: &Character| hero.velocity.y.powi(2) + stiffness * (hero.position.y + FLOATS).powi(2);
        let before = energy(&swim.hero);
        swim.until(60.0, rate, Intent::default());
        let off = (energy(&swim.hero) / before - 1.0).abs();
        println!("{rate} Hz: energy off by {off:.1e} after a minute");
        assert!(off < 1e-3, "{rate} Hz: {off}");
        let angle = stiffness.sqrt() * 60.0;
        let formula = 0.23 * angle.cos() - FLOATS;
        assert!((swim.hero.position.y - formula).abs() < 1e-4, "{rate} Hz: {} {formula}", swim.hero.position.y);
    }
}

#[test]
fn strokes_and_glides_are_those_of_the_formulas_every_way() {
    let Swim { speed, rise, dive, acceleration, deceleration, drag, .. } = Swim::default();
    let view = |v: Vec3| Intent::new(Heading::View(Vec2::Y)).looking(v);
    let down = Vec3::new(0.6, -0.8, 0.0);
    let ways = [
        (Intent::toward(Vec3::X), Vec3::X, speed),
        (Intent::default().hold(Button::Jump), Vec3::Y, rise),
        (Intent::default().in_stance(Stance::Crouch), Vec3::NEG_Y, dive),
        (view(down), down, speed),
        (Intent::toward(-down), -down, speed),
    ];
    let [acceleration, deceleration, drag] = [acceleration, deceleration, drag].map(f64::from);
    for rate in SIX_RATES {
        for (intent, way, top) in ways {
            let mut swim = swimmer(tuned(|s| s.idle = 0.0), [0.0, -40.0, 0.0]);
            swim.until(3.0, rate, intent);
            let (top, gone) = (f64::from(top), (swim.hero.position + DVec3::Y * 40.0).dot(way.as_dvec3()));
            assert!(
                (swim.hero.velocity - way.as_dvec3() * top).length() < 1e-6,
                "{rate} Hz {way}: {}",
                swim.hero.velocity
            );
            // Up to speed: what is left of its strength once drag has taken its part.
            let up_to = -(1.0 - drag * top / acceleration).ln() / drag;
            let formula = acceleration / drag * up_to - top / drag + top * (3.0 - up_to);
            assert!((gone - formula).abs() < 1e-4, "{rate} Hz {way}: {gone} {formula}");
            let (stops, takes) = glide(top, drag, deceleration);
            swim.until(3.0 + takes - 0.01, rate, Intent::default());
            assert!(swim.hero.velocity.length() > 1e-4, "{rate} Hz {way}");
            swim.until(3.0 + takes + 0.01, rate, Intent::default());
            let gone = (swim.hero.position + DVec3::Y * 40.0).dot(way.as_dvec3());
            assert_eq!(swim.hero.velocity, DVec3::ZERO, "{rate} Hz {way}");
            assert!((gone - formula - stops).abs() < 1e-4, "{rate} Hz {way}: {gone} {}", formula + stops);
        }
    }
}

#[test]
fn idle_it_rises_sinks_or_stays_as_tuned() {
    for rate in SIX_RATES {
        for idle in [0.5f32, 0.0, -0.7] {
            let mut swim = swimmer(tuned(|s| s.idle = idle), [0.0, -40.0, 0.0]);
            swim.until(5.0, rate, Intent::default());
            let (idle, settles) = (f64::from(idle), glide(f64::from(idle.abs()), 1.8, 1.0));
            assert!((swim.hero.velocity.y - idle).abs() < 1e-6, "{rate} Hz {idle}: {}", swim.hero.velocity);
            let formula = -40.0 + idle * 5.0 - settles.0 * idle.signum();
            assert!(
                idle == 0.0 || (swim.hero.position.y - formula).abs() < 1e-4,
                "{rate} Hz {idle}: {}",
                swim.hero.position
            );
        }
    }
}

/// How deep a fall from `height` leads, by a million small steps a second: what it floats by and what it glides by.
fn dive_of(height: f64, gravity: f64) -> f64 {
    let (step, mut y, mut v) = (1e-6, 0.0, -(2.0 * gravity * height).sqrt());
    while v < 0.0 {
        let pull = if y > -1.8 { gravity * (-y / FLOATS - 1.0) } else { 1.8 * 0.3 + 1.0 };
        v += (pull - 1.8 * v) * step;
        y += v * step;
    }
    y
}

#[test]
fn a_dive_is_as_deep_as_its_formula_and_the_splash_as_fast() {
    for height in [1.0, 3.0, 8.0, 20.0, 90.0] {
        for rate in SIX_RATES {
            let tuning = tuned(|_| {});
            let gravity = tuning.falling_gravity();
            let mut swim = swimmer(tuning, [0.0, height, 0.0]);
            let (mut lowest, mut surfaced) = (0.0f64, false);
            for tick in 0..(6.0 * rate) as u64 {
                swim.until((tick + 1) as f64 / rate, rate, Intent::default());
                lowest = lowest.min(swim.hero.position.y);
                surfaced |= swim.hero.velocity.y > 0.0 && swim.hero.mode == Mode::Swim;
            }
            let splash = swim
                .when(|k| matches!(k, EventKind::Splashed { .. }))
                .unwrap_or_else(|| panic!("{rate} Hz {height} m: no splash: {:?}", swim.events));
            let EventKind::Splashed { speed } = splash.kind else { unreachable!() };
            let formula = (2.0 * gravity * height).sqrt();
            assert!((f64::from(speed) / formula - 1.0).abs() < 1e-5, "{rate} Hz {height} m: {speed} {formula}");
            assert!((splash.time - formula / gravity).abs() < 1e-6 && splash.place.y.abs() < 1e-6, "{splash:?}");
            // Between two ticks it may have been a little deeper.
            let (deepest, missed) = (dive_of(height, gravity), 1.0 / (rate * rate));
            assert!(
                surfaced && lowest - deepest < missed + 1e-3 && deepest - lowest < 1e-3,
                "{rate} Hz {height} m: {lowest} {deepest}"
            );
            assert_eq!(count(&swim, |k| matches!(k, EventKind::SwimBegan)), 1);
            assert_eq!(count(&swim, |k| matches!(k, EventKind::Landed { .. })), 0);
        }
    }
}

#[test]
fn a_beach_is_walked_into_and_out_of_with_one_change_of_mode_each_way_at_the_same_place() {
    let (mut walks, mut worst) = (0, 0.0f64);
    for slope in [2, 3, 5, 8, 12, 17, 22, 27, 31, 35, 38, 40] {
        let angle = f64::from(slope).to_radians();
        let places = SIX_RATES.iter().take(5).map(|rate| {
            let ground = World::new().plane(DVec3::ZERO, DVec3::new(-angle.sin(), angle.cos(), 0.0), 400.0);
            let scene = Scene::new().with(ground.mesh()).with_zone(sea(still()));
            let dry = 0.4 / angle.tan();
            let mut swim = Ascent::new(scene, tuned(|_| {}), [dry, 0.4 + 0.4 * angle.tan(), 0.0]);
            let out = 1.6 / angle.tan() / 1.8 + 4.0;
            swim.until(out, *rate, Intent::toward(Vec3::NEG_X));
            assert_eq!(swim.hero.mode, Mode::Swim, "{slope} degrees at {rate} Hz");
            while swim.hero.mode == Mode::Swim {
                let next = swim.hero.clock + 1.0 / rate;
                swim.until(next, *rate, Intent::toward(Vec3::X));
            }
            let dry = swim.hero.clock + 2.0;
            swim.until(dry, *rate, Intent::toward(Vec3::X));
            let place = |is: fn(&EventKind) -> bool| {
                assert_eq!(count(&swim, is), 1, "{slope} degrees at {rate} Hz: {:?}", swim.events);
                swim.when(is).map(|e| e.place).unwrap()
            };
            assert_eq!(swim.hero.mode, Mode::Ground);
            assert_eq!(count(&swim, |k| matches!(k, EventKind::LeftGround { .. } | EventKind::Splashed { .. })), 0);
            walks += 1;
            (place(|k| *k == EventKind::SwimBegan), place(|k| *k == EventKind::SwimEnded))
        });
        let places: Vec<_> = places.collect();
        for (into, out) in &places {
            let apart = (*into - places[0].0).length().max((*out - places[0].1).length());
            worst = worst.max(apart);
            assert!(apart < 1e-2, "{slope} degrees: {places:?}");
            assert!(
                (into.y + 0.87 * 1.8).abs() < 1e-4 && (out.y + 0.72 * 1.8).abs() < 1e-3,
                "{slope} degrees: {into} {out}"
            );
        }
    }
    println!("at most {:.3} mm apart between the rates", worst * 1e3);
    println!("{walks} walks into the water and out of it");
}

#[test]
fn swimming_or_hovering_to_a_place_it_comes_to_rest_there_at_every_rate() {
    let place = DVec3::new(6.0, 0.0, 1.0);
    let to = Intent::new(Heading::To { place, speed: 1.0 });
    let hovers = TuningValues { hover: Some(Hover::default()), ..TuningValues::default() };
    for rate in SIX_RATES {
        let basin = swimmer(tuned(|_| ()), [0.0, -1.53, 0.0]);
        let mut hurried = swimmer(tuned(|_| ()), [0.0, -1.53, 0.0]);
        hurried.modifiers.speed = 2.5;
        let mut dry = Ascent::new(Scene::new(), Tuning::new(hovers).unwrap(), [0.0, 2.0, 0.0]);
        dry.until(0.1, rate, to.hold(Button::Hover));
        for (mut way, what) in [(basin, "swims"), (hurried, "swims faster"), (dry, "hovers")] {
            let mut furthest = 0.0f64;
            for moment in 1..=240 {
                let at = way.until(0.1 + 0.05 * f64::from(moment), rate, to).hero.position;
                furthest = furthest.max(at.x);
            }
            let off = (way.hero.position - place) * DVec3::new(1.0, 0.0, 1.0);
            assert!(off.length() < 2e-4, "{what} at {rate} Hz: {off} off");
            assert!(furthest < place.x + 0.06, "{what} at {rate} Hz: to {furthest}");
            assert!(way.hero.velocity.length() < 1e-3, "{what} at {rate} Hz: {}", way.hero.velocity);
        }
    }
}

#[test]
fn waves_lift_it_along() {
    let swell = Swell { along: Vec3::X, height: 0.8, length: 14.0, period: 3.0, since: 0.0 };
    let ends = SIX_RATES.map(|rate| {
        let scene = Scene::new().with(World::new().floor(800.0, -20.0).mesh());
        let scene = scene.with_zone(sea(still().with_swell(swell)));
        let mut swim = Ascent::new(scene, tuned(|_| {}), [0.0, -FLOATS, 0.0]);
        swim.until(10.0, rate, Intent::default());
        for (end, intent, most) in [(40.0, Intent::default(), 1e-3), (60.0, Intent::toward(Vec3::X), 5e-3)] {
            while swim.hero.clock < end - 1e-9 {
                let next = swim.hero.clock + 1.0 / 60.0;
                swim.until(next, rate, intent);
                let off = swim.hero.position.y + FLOATS - swell.lift(swim.hero.position, swim.hero.clock);
                assert!(off.abs() < most, "{rate} Hz after {next} s: {off}");
            }
        }
        assert_eq!(count(&swim, |k| matches!(k, EventKind::SwimEnded)), 0, "{rate} Hz");
        swim.hero.position
    });
    assert!(ends.iter().all(|end| (*end - ends[5]).length() < 1e-5), "{ends:?}");
}

#[test]
fn a_current_carries_it_and_whoever_cannot_withstand_it() {
    for rate in SIX_RATES {
        let flows = |depth: f64| {
            let ground = World::new().floor(800.0, -depth).mesh();
            Scene::new().with(ground).with_zone(sea(still().flowing(Vec3::X * 2.0)))
        };
        let mut swim = Ascent::new(flows(20.0), tuned(|_| {}), [0.0, -FLOATS, 0.0]);
        swim.until(20.0, rate, Intent::default());
        // As fast as the current, less what it took to get going: drag and its own stopping strokes.
        let formula = 2.0 * 20.0 - glide(2.0, 1.8, 1.0).0;
        assert!((swim.hero.position.x - formula).abs() < 1e-3, "{rate} Hz: {} {formula}", swim.hero.position);
        swim.until(30.0, rate, Intent::toward(Vec3::NEG_X));
        assert!((swim.hero.velocity.x + 0.2).abs() < 1e-6, "2.2 m/s against 2: {}", swim.hero.velocity);
        // Wading: up to the chest it has hold of two thirds of it.
        for (depth, carried) in [(0.9, 0.0), (1.35, 2.0 * 0.75 - 1.0)] {
            let mut wade = Ascent::new(flows(depth), tuned(|_| {}), [0.0, -depth, 0.0]);
            wade.until(3.0, rate, Intent::default());
            assert_eq!(wade.hero.mode, Mode::Ground);
            assert!((wade.hero.velocity.x - carried).abs() < 0.01, "{rate} Hz at {depth} m: {}", wade.hero.velocity);
            // And the water slows it: to 0.4 where all of it is under.
            wade.until(6.0, rate, Intent::toward(Vec3::Z));
            let slowed = 4.5 * (1.0 - 0.6 * depth / 1.8);
            assert!((wade.hero.velocity.z - slowed).abs() < 0.02, "{rate} Hz at {depth} m: {}", wade.hero.velocity);
        }
    }
}

#[test]
fn it_leaps_at_the_surface_and_the_button_rises_under_water() {
    for rate in SIX_RATES {
        let mut swim = swimmer(tuned(|_| {}), [0.0, -FLOATS, 0.0]);
        swim.until(1.0, rate, Intent::default());
        swim.until(1.0 + 1.0 / rate, rate, Intent::default().hold(Button::Jump));
        let mut highest = f64::NEG_INFINITY;
        while swim.hero.clock < 4.0 {
            let next = swim.hero.clock + 1.0 / rate;
            swim.until(next, rate, Intent::default());
            highest = highest.max(swim.hero.position.y);
        }
        let jump = swim.when(|k| *k == EventKind::Jumped { off: Off::Water }).expect("a leap");
        let topped = swim.when(|k| *k == EventKind::Topped).expect("a top");
        assert!((topped.place.y - jump.place.y - 0.5).abs() < 1e-4, "{rate} Hz: {jump:?} {topped:?}");
        assert_eq!(count(&swim, |k| *k == EventKind::SwimBegan), 2, "{rate} Hz: {:?}", swim.events);
    }
}

#[test]
fn an_edge_in_reach_is_climbed_out_over() {
    for rate in SIX_RATES {
        for rim in [0.02, 0.15, 0.26] {
            let quay = World::new().floor(400.0, -20.0).block([3.0, -20.0, -9.0], [90.0, rim, 9.0]);
            let scene = Scene::new().with(quay.mesh()).with_zone(sea(still()));
            let values = TuningValues {
                ledge: Some(Ledge { takes: Takes::Touch, ..Ledge::default() }),
                ..TuningValues::default()
            };
            let mut swim = Ascent::new(scene, Tuning::new(values).unwrap(), [0.0, -FLOATS, 0.0]);
            swim.until(6.0, rate, Intent::toward(Vec3::X));
            assert!(
                swim.hero.mode == Mode::Ground && (swim.hero.position.y - rim).abs() < 0.02,
                "{rate} Hz {rim} m: {:?} {}",
                swim.hero.mode,
                swim.hero.position
            );
            assert_eq!(count(&swim, |k| matches!(k, EventKind::PulledUp { .. })), 1, "{rate} Hz {rim} m");
        }
    }
}

#[test]
fn shallow_water_softens_a_fall_by_its_depth() {
    for rate in SIX_RATES {
        for depth in [-0.1f64, 0.3, 0.75, 1.2, 1.55] {
            let scene = Scene::new().with(World::new().floor(60.0, -depth).mesh()).with_zone(sea(still()));
            let mut values = TuningValues::default();
            (values.impact.safe, values.impact.lethal, values.impact.softened) = (4.0, 14.0, 1.5);
            let mut fall = Ascent::new(scene, Tuning::new(values).unwrap(), [0.0, 5.0, 0.0]);
            fall.until(3.0, rate, Intent::default());
            let splash = fall.when(|k| matches!(k, EventKind::Splashed { .. }));
            assert_eq!(splash.is_some(), depth > 0.0, "{rate} Hz {depth} m");
            let landed = fall.when(|k| matches!(k, EventKind::Landed { .. })).expect("shallow enough to land");
            let EventKind::Landed { speed, hardness, .. } = landed.kind else { unreachable!() };
            let formula = (2.0 * fall.tuning.falling_gravity() * (5.0 + depth)).sqrt();
            let felt: f64 = formula * (1.0 - depth.max(0.0) / 1.5).max(0.0);
            let hard = ((felt - 4.0) / 10.0).clamp(0.0, 1.0);
            assert!((f64::from(speed) - formula).abs() < 1e-3, "{rate} Hz {depth} m: {speed} {formula}");
            assert!((f64::from(hardness) - hard).abs() < 1e-3, "{rate} Hz {depth} m: {hardness} {hard}");
            assert_eq!(fall.hero.mode, Mode::Ground);
        }
    }
}

#[test]
fn what_sinks_walks_on_the_bottom_and_pushes_off_it() {
    for rate in SIX_RATES {
        let tuning = tuned(|s| s.idle = -0.8);
        let mut dive = Ascent::new(basin(6.0), tuning, [0.0, -FLOATS, 0.0]);
        dive.until(3.0, rate, Intent::default());
        assert!((dive.hero.position.y + FLOATS).abs() < 1e-3, "with its head out it floats: {}", dive.hero.position);
        dive.until(4.5, rate, Intent::default().in_stance(Stance::Crouch));
        dive.until(12.0, rate, Intent::default());
        assert!(
            dive.hero.mode == Mode::Ground && (dive.hero.position.y + 6.0).abs() < 0.01,
            "{rate} Hz: {:?}",
            dive.hero.state()
        );
        assert!(dive.hero.marks.under_water() && dive.hero.time_under > 7.0);
        dive.until(15.0, rate, Intent::toward(Vec3::X));
        assert!(
            (dive.hero.velocity.x - 4.5 * 0.4).abs() < 1e-3,
            "all of it under, slowed to 0.4: {}",
            dive.hero.velocity
        );
        let modes = count(&dive, |k| matches!(k, EventKind::SwimBegan | EventKind::SwimEnded));
        assert_eq!(modes, 2, "{rate} Hz: {:?}", dive.events);
        dive.until(22.0, rate, Intent::default().hold(Button::Jump));
        assert!(
            dive.hero.mode == Mode::Swim && (dive.hero.position.y + FLOATS).abs() < 0.02,
            "{rate} Hz: {:?}",
            dive.hero.state()
        );
        assert!(dive.when(|k| matches!(k, EventKind::Surfaced { seconds } if *seconds > 10.0)).is_some());
    }
}

#[test]
fn without_the_table_or_switched_off_it_walks_through_what_is_deep() {
    for rate in SIX_RATES {
        let walker = Tuning::new(TuningValues { swim: None, ..TuningValues::default() }).unwrap();
        let mut walk = Ascent::new(basin(3.0), walker, [0.0, -3.0, 0.0]);
        walk.until(4.0, rate, Intent::toward(Vec3::X));
        assert!(walk.hero.mode == Mode::Ground && walk.hero.time_under > 3.9 && walk.hero.velocity.x > 1.79);
        // Switched off in mid-water: it falls to the bottom, and swims again as soon as it may.
        let mut swim = swimmer(tuned(|_| {}), [0.0, -FLOATS, 0.0]);
        swim.scene = basin(3.0);
        swim.until(1.0, rate, Intent::default());
        swim.modifiers.can_swim = false;
        swim.until(3.0, rate, Intent::default());
        assert!(
            swim.hero.mode == Mode::Ground && (swim.hero.position.y + 3.0).abs() < 0.01,
            "{rate} Hz: {:?}",
            swim.hero.state()
        );
        swim.modifiers.can_swim = true;
        swim.until(14.0, rate, Intent::default());
        assert!(
            swim.hero.mode == Mode::Swim && (swim.hero.position.y + FLOATS).abs() < 1e-3,
            "{rate} Hz: {:?}",
            swim.hero.state()
        );
    }
}
