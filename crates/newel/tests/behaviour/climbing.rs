//! Ladders, poles and walls: by the formulas, round corners, as far as there is hold, and never without.

use crate::common::oracle::Dice;
use crate::common::scenes::{Ascent, carriers};
use crate::common::script::Script;
use crate::common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Ability, Button, Change, Character, Climb, Effect, EventKind, Heading, Hold, HoldEnd, Intent, Ledge, Mesh, Mode,
    Off, Phase, Refusal, Scene, Spawn, Stance, Takes, Tuning, TuningValues, Zone,
};

const RUNGS: u16 = 4;
const IVY: u16 = 5;
const ROPE: u16 = 6;

fn climber(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { climb: Some(Climb::default()), ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// A sheet with corners given round it, of one surface.
fn sheet(corners: [[f32; 3]; 4], surface: u16) -> Mesh {
    Mesh::new(&corners, &[0, 1, 2, 0, 2, 3]).expect("a sheet").with_surface(surface)
}

fn holding(scene: Scene) -> Scene {
    scene.with_hold(RUNGS, Hold::Ladder).with_hold(IVY, Hold::Wall).with_hold(ROPE, Hold::Pole)
}

fn stick(right: f32, up: f32) -> Intent {
    Intent::new(Heading::Surface(Vec2::new(right, up)))
}

/// A floor, a wall of 6 m at x = 1, and before it a ladder half a metre wide, from the floor to its top.
fn wall_with_ladder() -> Scene {
    ladder_of(6.0)
}

fn ladder_of(high: f64) -> Scene {
    let top = high as f32;
    let rungs = [[0.98, 0.0, -0.25], [0.98, 0.0, 0.25], [0.98, top, 0.25], [0.98, top, -0.25f32]];
    let world = World::new().floor(20.0, 0.0).block([1.0, 0.0, -5.0], [4.0, high, 5.0]);
    holding(Scene::new().with(world.mesh()).with(sheet(rungs, RUNGS)))
}

fn began(kind: &EventKind) -> bool {
    matches!(kind, EventKind::ClimbBegan { .. })
}

#[test]
fn grazing_a_ladder_beside_a_wall_it_climbs_or_hangs_at_rest() {
    let world = World::new().floor(80.0, 0.0).block([1.0, 0.0, -5.0], [70.0, 3.0, 5.0]);
    let rungs = World::new().block([0.94, 0.0, -0.4], [1.0, 3.0, 0.4]).mesh().with_surface(RUNGS);
    let scene = holding(Scene::new().with(world.mesh()).with(rungs));
    let brisk = *Tuning::brisk_hero().values();
    let ledge = Some(Ledge::for_size(&brisk.size));
    let tuning = Tuning::new(TuningValues { climb: Some(Climb::default()), ledge, ..brisk }).unwrap();
    let mut hangs = 0;
    for n in 0..80 {
        for rate in [15.0, 240.0] {
            let z = 0.35 + 0.005 * f64::from(n);
            let mut ascent = Ascent::new(scene.clone(), tuning, [-1.0, 0.0, z]);
            let before = ascent.until(7.0, rate, Intent::toward(Vec3::X)).hero.position;
            ascent.until(8.0, rate, Intent::toward(Vec3::X));
            let hero = &ascent.hero;
            if hero.mode == Mode::Climb && hero.position == before {
                hangs += 1;
                assert_eq!(hero.velocity, DVec3::ZERO, "z {z}, {rate} Hz: at rest, and says so");
            }
        }
    }
    assert!(hangs > 0, "what this is about happens");
}

#[test]
fn where_a_wall_comes_to_lie_before_the_ladder_it_lets_itself_down_or_hangs_at_rest() {
    let down = |top: f32, rate: f64| {
        // A batter before the foot of the ladder, from its very face out by 7 %.
        let batter =
            [[0.98, top, -4.0], [0.98, top, 4.0], [0.98 - 0.07 * top, 0.0, 4.0], [0.98 - 0.07 * top, 0.0, -4.0]];
        let scene = wall_with_ladder().with(sheet([batter[3], batter[2], batter[1], batter[0]], 0));
        let mut ascent = Ascent::new(scene, climber(|_| ()), [0.4, 0.0, 0.0]);
        ascent.hero = Character::spawn(&ascent.scene, &ascent.tuning, Spawn::at([0.6, 3.0, 0.0])).expect("a place");
        ascent.until(0.5, rate, Intent::toward(Vec3::X)).until(4.0, rate, stick(0.0, -1.0));
        ascent
    };
    for rate in SIX_RATES {
        let low = down(0.6, rate);
        let at = low.hero.position;
        assert_eq!(low.hero.mode, Mode::Ground, "{rate} Hz: a step over the floor it lets itself down, at {at}");
        assert!(low.hero.position.y.abs() < 1e-3, "{rate} Hz: {}", low.hero.position);
        let high = down(2.5, rate);
        assert_eq!((high.hero.mode, high.hero.velocity), (Mode::Climb, DVec3::ZERO), "{rate} Hz: it hangs");
        assert!(high.hero.position.y > 1.0, "{rate} Hz: {}", high.hero.position);
    }
}

#[test]
fn up_and_down_a_ladder_by_the_formula_at_every_rate() {
    let tuned = Climb::default();
    let (up, down) = (f64::from(tuned.up), f64::from(tuned.down));
    let (gains, loses) = (f64::from(tuned.acceleration), f64::from(tuned.deceleration));
    for rate in SIX_RATES {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|_| {}), [0.0, 0.0, 0.1]);
        ascent.until(2.0, rate, Intent::toward(Vec3::X));
        let start = ascent.when(began).expect("it takes hold").time;
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz: {:?}", ascent.events);
        let risen = up * (2.0 - start) - 0.5 * up * up / gains;
        assert!((ascent.hero.position.y - risen).abs() < 1e-4, "{rate} Hz: {} {risen}", ascent.hero.position.y);
        assert!(ascent.hero.position.z.abs() < 2e-4, "in its middle: {}", ascent.hero.position);
        let top = ascent.until(2.5, rate, Intent::default()).hero.position.y;
        assert!((top - risen - 0.5 * up * up / loses).abs() < 1e-4, "{rate} Hz: {top}");
        assert_eq!(ascent.hero.velocity, DVec3::ZERO);
        let still = ascent.hero.position;
        ascent.until(4.0, rate, Intent::default());
        assert_eq!(ascent.hero.position, still, "{rate} Hz: idle is idle");
        // Down to the floor, and off.
        ascent.until(7.0, rate, stick(0.0, -1.0));
        let off = ascent.when(|k| matches!(k, EventKind::ClimbEnded { .. })).expect("at the bottom").time;
        let lasts = (top + 0.5 * down * down / gains) / down;
        assert!((off - 4.0 - lasts).abs() < 1e-3, "{rate} Hz: {off} {lasts}");
        assert_eq!(ascent.hero.mode, Mode::Ground, "{rate} Hz");
    }
}

/// All of a world's own triangles made of one surface.
fn made_of(world: &World, surface: u16) -> Mesh {
    world.mesh().with_surface(surface)
}

fn ended(kind: &EventKind) -> bool {
    matches!(kind, EventKind::ClimbEnded { .. })
}

/// A floor of nothing in particular, and a world of ivy.
fn overgrown(world: &World) -> Scene {
    holding(Scene::new().with(World::new().floor(20.0, 0.0).mesh()).with(made_of(world, IVY)))
}

/// The greatest distance between places that should be one.
fn apart(places: &[DVec3]) -> f64 {
    places.iter().map(|p| (*p - places[places.len() - 1]).length()).fold(0.0, f64::max)
}

#[test]
fn round_pillars_and_in_rooms_of_ivy_it_climbs_sideways_alike_at_every_rate() {
    let pillar = World::new().block([-1.0, -1.0, -1.0], [1.0, 9.0, 1.0]);
    let room = World::new().block([-2.0, -1.0, -2.0], [2.0, 9.0, 2.0]).mapped(|p| DVec3::new(-p.x, p.y, p.z));
    // Twelve sides, as narrow as a tree.
    let trunk = (0..12).fold(World::new(), |world, i| {
        let corner = |i: i32, y: f64| {
            let angle = f64::from(i) * std::f64::consts::TAU / 12.0;
            DVec3::new(0.35 * angle.cos(), y, 0.35 * angle.sin())
        };
        world.quad(corner(i, 0.0), corner(i, 9.0), corner(i + 1, 9.0), corner(i + 1, 0.0))
    });
    // How far the middle goes once round, by the formula: along straight sides, and round their edges at a radius.
    let radius = f64::from(climber(|_| {}).shape().radius);
    let round = std::f64::consts::TAU * radius;
    let ways = [8.0 + round, 4.0 * (4.0 - 2.0 * radius), 12.0 * 0.7 * (std::f64::consts::PI / 12.0).sin() + round];
    let starts = [[-1.5, 0.0, 0.2], [1.5, 0.0, 0.2], [-1.0, 0.0, 0.05]];
    for ((world, way), start) in [pillar, room, trunk].iter().zip(ways).zip(starts) {
        let (mut ends, mut heights) = (Vec::new(), Vec::new());
        for rate in SIX_RATES {
            let mut ascent = Ascent::new(overgrown(world), climber(|v| v.climb = Some(fast_aside())), start);
            ascent.until(1.0, rate, Intent::toward(Vec3::X)).until(2.0, rate, stick(0.0, 1.0));
            ascent.until(2.5, rate, Intent::default());
            let (from, height) = (ascent.hero.position, ascent.hero.position.y);
            // Once round and back to where it began, whichever way.
            for (turn, begins) in [(1.0f32, 2.5), (-1.0, 42.5)] {
                let lasts = way / 1.0 + 0.5 / 1e5;
                ascent.until(begins + lasts, rate, stick(turn, 0.0)).until(begins + 40.0, rate, Intent::default());
                let off = ascent.hero.position.distance(from);
                assert!(off < 0.01, "{way:.3} m at {rate} Hz: {off} m off");
                ends.push(ascent.hero.position);
            }
            heights.push((ascent.hero.position.y - height).abs());
            assert!(ascent.hero.mode == Mode::Climb && ascent.when(ended).is_none(), "{rate} Hz: {:?}", ascent.events);
        }
        let sunk = heights.into_iter().fold(0.0, f64::max);
        println!("once round, {way:.3} m: {:.3} mm apart, {sunk:.9} m up or down", apart(&ends) * 1e3);
        assert!(apart(&ends) < 0.005 && sunk < 1e-5, "{ends:?}");
    }
}

/// A metre a second sideways, at once.
fn fast_aside() -> Climb {
    Climb { aside: 1.0, acceleration: 1e5, deceleration: 1e5, ..Climb::default() }
}

#[test]
fn round_poles_it_turns_and_stops_where_the_hands_come_to_the_end() {
    let tuned = fast_aside();
    for rate in SIX_RATES {
        let pole = Scene::new().with(World::new().floor(20.0, 0.0).mesh());
        let pole = holding(pole.with_pole(DVec3::ZERO, DVec3::Y * 6.0, 0.1, ROPE));
        let mut ascent = Ascent::new(pole, climber(|v| v.climb = Some(tuned)), [-1.5, 0.0, 0.0]);
        ascent.until(2.0, rate, Intent::toward(Vec3::X)).until(2.4, rate, Intent::default());
        let still = ascent.hero.position;
        assert_eq!(ascent.until(2.5, rate, Intent::default()).hero.position, still, "{rate} Hz: idle is idle");
        // A quarter of a circle of 0.4 m, round to the right of where it came from.
        let quarter = 0.25 * std::f64::consts::TAU * 0.4;
        ascent.until(2.5 + quarter, rate, stick(1.0, 0.0)).until(5.0, rate, Intent::default());
        let place = ascent.hero.position;
        assert!((place.x.abs() < 2e-3) && (place.z - 0.4).abs() < 1e-4, "{rate} Hz: {place}");
        assert!((ascent.hero.facing - Vec3::NEG_Z).length() < 5e-3, "it looks at the pole: {}", ascent.hero.facing);
        // As high as the hands hold: no further, and without letting go.
        let highest = 6.0 - f64::from(tuned.hands * ascent.tuning.shape().height);
        ascent.until(9.0, rate, stick(0.0, 1.0)).until(9.5, rate, Intent::default());
        assert!((ascent.hero.position.y - highest).abs() < 2e-3, "{rate} Hz: {} {highest}", ascent.hero.position.y);
        assert!(ascent.hero.mode == Mode::Climb && ascent.hero.velocity == DVec3::ZERO, "{rate} Hz");
    }
}

#[test]
fn a_ladder_may_hold_at_its_rungs_and_be_slid_down() {
    let tuned = Climb { rung: 0.3, ..Climb::default() };
    for rate in SIX_RATES {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|v| v.climb = Some(tuned)), [0.0, 0.0, 0.0]);
        ascent.until(1.37, rate, Intent::toward(Vec3::X)).until(3.0, rate, Intent::default());
        let rungs = ascent.hero.position.y / 0.3;
        assert!((rungs - rungs.round()).abs() < 1e-3 && rungs > 3.0, "{rate} Hz: {rungs} rungs up");
        assert_eq!(ascent.hero.velocity, DVec3::ZERO);
        let still = ascent.hero.position;
        ascent.until(5.0, rate, Intent::default());
        assert_eq!(ascent.hero.position, still);
        // A touch of the stick: the next rung, at rest, within the way it takes to stop and a rung.
        ascent.until(5.05, rate, stick(0.0, 1.0)).until(6.0, rate, Intent::default());
        let next = ascent.hero.position.y / 0.3;
        assert!((next - rungs - 1.0).abs() < 1e-3, "{rate} Hz: from {rungs} to {next}");
        ascent.until(6.9, rate, stick(0.0, 1.0)).until(9.0, rate, Intent::default());
        // Down it slides with a crouch: v²/2a and then at full speed.
        let high = ascent.hero.position.y;
        let (speed, gains) = (f64::from(tuned.slide), f64::from(tuned.slide_acceleration));
        ascent.until(12.0, rate, Intent::default().in_stance(Stance::Crouch));
        let bottom = ascent.when(ended).expect("at the bottom");
        let takes = if high < 0.5 * speed * speed / gains {
            (2.0 * high / gains).sqrt()
        } else {
            high / speed + 0.5 * speed / gains
        };
        assert!((bottom.time - 9.0 - takes).abs() < 2e-3, "{rate} Hz: {} {takes}", bottom.time - 9.0);
        assert_eq!(bottom.kind, EventKind::ClimbEnded { reason: HoldEnd::Ground });
        assert_eq!((ascent.hero.mode, ascent.hero.stance), (Mode::Ground, Stance::Crouch), "{rate} Hz");
    }
}

#[test]
fn it_lets_go_jumps_off_and_takes_hold_on_request() {
    let climb = Climb { takes: Takes::Button, ..Climb::default() };
    for rate in SIX_RATES {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|v| v.climb = Some(climb)), [0.0, 0.0, 0.0]);
        let into = Intent::toward(Vec3::X);
        ascent.until(1.0, rate, into);
        assert_eq!(ascent.hero.mode, Mode::Ground, "{rate} Hz: not by itself");
        ascent.until(2.0, rate, into.hold(Button::Grab));
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz");
        ascent.until(2.2, rate, into);
        // The same button lets go, and does not take hold again at once, though it is held and the heading leads in.
        let high = ascent.hero.position.y;
        ascent.until(2.3, rate, into.hold(Button::Grab));
        assert_eq!((ascent.hero.mode, ascent.hero.phase), (Mode::Air, Phase::LetGo), "{rate} Hz");
        ascent.until(2.2 + 0.34, rate, into.hold(Button::Grab));
        assert!(ascent.hero.mode == Mode::Air && ascent.hero.position.y < high - 0.3, "{rate} Hz");
        ascent.until(2.2 + 0.38, rate, into.hold(Button::Grab));
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz: it takes hold again");
        // Off it: straight away from what it faces, and as high as tuned.
        ascent.until(3.0, rate, into);
        let from = ascent.hero.position;
        ascent.events.clear();
        ascent.until(3.0 + 1.0 / 64.0, rate, Intent::default().hold(Button::Jump));
        let jump = ascent.when(|k| matches!(k, EventKind::Jumped { off: Off::Hold })).expect("a jump");
        assert!((jump.velocity.x + f64::from(climb.jump_away)).abs() < 1e-5, "{rate} Hz: {}", jump.velocity);
        ascent.until(6.0, rate, Intent::default().hold(Button::Jump));
        let top = ascent.when(|k| *k == EventKind::Topped).expect("its top").place.y - from.y;
        assert!((top - f64::from(climb.jump_height)).abs() < 2e-3, "{rate} Hz: {top}");
    }
}

#[test]
fn over_the_top_it_comes_to_stand_on_the_floor_and_under_a_ceiling_it_stays() {
    for (ceiling, stance) in [(9.0, Some(Stance::Stand)), (7.5, Some(Stance::Crouch)), (7.1, None)] {
        for rate in SIX_RATES {
            let slab = World::new().block([-2.0, ceiling, -5.0], [4.0, ceiling + 0.5, 5.0]);
            let tuning = climber(|_| {});
            let mut ascent = Ascent::new(wall_with_ladder().with(slab.mesh()), tuning, [0.0, 0.0, 0.0]);
            ascent.until(3.4, rate, Intent::toward(Vec3::X)).until(5.0, rate, Intent::default());
            let reason = ascent.when(ended).map(|e| e.kind);
            let Some(stance) = stance else {
                assert_eq!((ascent.hero.mode, reason), (Mode::Climb, None), "{rate} Hz");
                continue;
            };
            assert_eq!(reason, Some(EventKind::ClimbEnded { reason: HoldEnd::Ledge }), "{ceiling} m, {rate} Hz");
            assert_eq!((ascent.hero.mode, ascent.hero.stance), (Mode::Ground, stance), "{ceiling} m, {rate} Hz");
            assert!((ascent.hero.position.y - 6.0).abs() < 1e-3, "{rate} Hz: {}", ascent.hero.position);
        }
    }
}

#[test]
fn wherever_in_a_tick_it_comes_to_the_top_it_goes_over_then() {
    let tops = |rate: f64, at: f64| {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|_| {}), [at, 0.0, 0.0]);
        ascent.until(3.9, rate, Intent::toward(Vec3::X));
        let told = ascent.when(ended);
        told.unwrap_or_else(|| panic!("{rate} Hz: not over it")).time
    };
    for n in 0..20 {
        let at = 4.5e-4 * f64::from(n);
        let apart = (tops(1000.0, at) - tops(60.0, at)).abs();
        assert!(apart < 2e-4, "{n}: {apart} s apart");
    }
}

#[test]
fn walls_that_lean_no_further_than_tuned_are_climbed() {
    for degrees in [40.0, 55.0, 59.0, 61.0, 75.0, 90.0, 105.0, 119.0, 121.0, 135.0f64] {
        let lean = degrees.to_radians();
        let up = DVec3::new(lean.cos(), lean.sin(), 0.0);
        let face = |along: f64, aside: f64| DVec3::new(0.5, 0.0, aside) + up * along;
        let wall = World::new().quad(face(-1.0, -5.0), face(-1.0, 5.0), face(9.0, 5.0), face(9.0, -5.0));
        for rate in [15.0, 60.0, 1000.0] {
            let tuning = climber(|v| v.ground.steepest = 44.0);
            let mut ascent = Ascent::new(overgrown(&wall), tuning, [-2.43, 0.0, 0.0]);
            ascent.until(3.0, rate, Intent::toward(Vec3::X));
            let tuned = (60.0..=120.0).contains(&degrees);
            assert_eq!(ascent.hero.mode == Mode::Climb, tuned, "{degrees}°, {rate} Hz: {:?}", ascent.hero.mode);
            let Some(start) = ascent.when(began).filter(|_| tuned) else { continue };
            // As fast along the wall as it is tuned, however it leans.
            let gone = (ascent.hero.position - start.place).length();
            // What of its walk led up the wall it has already.
            let lacks = 2.0 - start.velocity.dot(up);
            let expected = 2.0 * (3.0 - start.time) - 0.5 * lacks * lacks.abs() / 12.0;
            assert!((gone - expected).abs() < 1e-3, "{degrees}°, {rate} Hz: {gone} {expected}");
            let still = ascent.until(3.5, rate, Intent::default()).hero.position;
            assert_eq!(ascent.until(5.0, rate, Intent::default()).hero.position, still, "{degrees}°, {rate} Hz: idle");
        }
    }
}

#[test]
fn on_what_moves_it_climbs_as_on_what_stands_and_idle_it_stays_where_it_is_on_it() {
    let block = || made_of(&World::new().block([0.0, 0.0, -1.0], [2.0, 9.0, 1.0]), IVY);
    for (name, track) in carriers() {
        let mut ends = Vec::new();
        for rate in SIX_RATES {
            let floor = World::new().floor(30.0, -4.0);
            let scene = holding(Scene::new().with(floor.mesh()).with_moving(7, block(), track.clone()));
            let grab = Intent::toward(Vec3::X).hold(Button::Grab);
            let mut ascent = Ascent::new(scene, climber(|v| v.climb = Some(fast_aside())), [-0.3, 0.5, 0.3]);
            ascent.until(0.01, rate, grab);
            assert_eq!(ascent.hero.mode, Mode::Climb, "{name}, {rate} Hz: {:?}", ascent.events);
            // Once up, once round, and then still for two rounds of the track.
            ascent.until(2.0, rate, stick(0.0, 0.5)).until(5.0, rate, stick(1.0, 0.0)).until(
                8.0,
                rate,
                Intent::default(),
            );
            let there = ascent.hero.position;
            ends.push(there);
            ascent.until(24.0, rate, Intent::default());
            let off = (ascent.hero.position - there).length();
            assert!(off < 1e-5, "{name}, {rate} Hz: {off} m off after two rounds");
            assert!(ascent.hero.mode == Mode::Climb && ascent.when(ended).is_none(), "{name}, {rate} Hz");
        }
        println!("on {name}: {:.3} mm apart", apart(&ends) * 1e3);
        assert!(apart(&ends) < 0.005, "{name}: {ends:?}");
    }
}

#[test]
fn a_box_may_hold_by_itself_in_space_and_in_a_side_view() {
    for rate in SIX_RATES {
        let (low, high) = (DVec3::new(0.8, 0.0, -0.4), DVec3::new(1.6, 3.0, 0.4));
        let effect = |out: Vec3| Effect::Hold { hold: Hold::Ladder, out };
        let floors = World::new().floor(9.0, 0.0).block([1.7, 2.0, -3.0], [9.0, 3.0, 3.0]);
        // Into it from the side it faces, up it, and over its top onto the floor there.
        let scene = Scene::new().with(floors.mesh()).with_zone(Zone::new(1, low, high, effect(Vec3::NEG_X)));
        let mut ascent = Ascent::new(scene, climber(|_| {}), [-1.0, 0.0, 0.1]);
        ascent.until(2.7, rate, Intent::toward(Vec3::X)).until(4.0, rate, Intent::default());
        assert!(ascent.when(began).is_some(), "{rate} Hz");
        assert!(
            ascent.hero.mode == Mode::Ground && (ascent.hero.position.y - 3.0).abs() < 1e-3,
            "{rate} Hz: {:?} {}",
            ascent.hero.mode,
            ascent.hero.position
        );
        // Seen from the side the same box faces the player: up on the stick climbs, and walking past does not.
        let scene = Scene::new().with(floors.mesh()).with_zone(Zone::new(1, low, high, effect(Vec3::Z)));
        let tuning = climber(|_| {});
        let hero = Character::spawn(&scene, &tuning, Spawn::at([-1.0, 0.0, 0.0]).in_plane(Vec3::Z)).expect("a place");
        let mut ascent = Ascent { hero, ..Ascent::new(scene, tuning, [-1.0, 0.0, 0.0]) };
        let screen = |x: f32, y: f32| Intent::new(Heading::Plane(Vec2::new(x, y)));
        ascent.until(0.5, rate, screen(1.0, 0.0));
        assert!(
            ascent.hero.mode == Mode::Ground && ascent.hero.position.x > 0.8,
            "{rate} Hz: {}",
            ascent.hero.position
        );
        ascent.until(1.0, rate, Intent::default()).until(1.8, rate, screen(0.0, 1.0)).until(
            3.0,
            rate,
            Intent::default(),
        );
        assert_eq!(ascent.hero.mode, Mode::Climb, "{rate} Hz: {:?}", ascent.hero.position);
        let place = ascent.hero.position;
        assert!((place.x - 1.2).abs() < 2e-4 && place.y > 1.0 && place.z == 0.0, "{rate} Hz, in its middle: {place}");
        ascent.until(4.0, rate, Intent::default());
        assert_eq!(ascent.hero.position, place);
    }
}

/// Compared at whole seconds: the same up and down a ladder, whatever the ticks and however inputs fall into them.
#[test]
fn a_minute_on_a_ladder_is_the_same_at_every_rate_and_in_ticks_of_any_length() {
    let heading = |right: f32, up: f32| Change::Heading(Heading::Surface(Vec2::new(right, up)));
    let mut script = Script::new().head(0.37, 1.0, 0.0);
    for round in 0..9 {
        let at = f64::from(round) * 6.13;
        script = script
            .at(at + 2.51, heading(0.0, 0.6))
            .at(at + 3.29, heading(0.0, 0.0))
            .at(at + 3.93, heading(0.3, -1.0))
            .at(at + 4.57, heading(0.0, 1.0))
            .at(at + 5.11, Change::Stance(Stance::Crouch))
            .at(at + 5.43, Change::Stance(Stance::Stand))
            .at(at + 6.01, heading(0.0, 0.0))
            .at(at + 7.37, heading(0.0, 0.35));
    }
    let run = |ticks: &mut dyn FnMut() -> f64| {
        let tuning = climber(|v| v.climb = Some(Climb { rung: 0.28, ..Climb::default() }));
        let mut about = Ascent::new(ladder_of(60.0), tuning, [-1.0, 0.0, 0.1]);
        let mut places = Vec::new();
        for second in 1..=60 {
            while about.hero.clock < f64::from(second) - 2e-9 {
                let dt = ticks().min(f64::from(second) - about.hero.clock);
                let intent = script.intent(about.hero.clock, dt);
                about.until(about.hero.clock + dt, 1.0 / dt, intent);
            }
            places.push(about.hero.position);
        }
        let told: Vec<_> = about.events.iter().map(|e| (core::mem::discriminant(&e.kind), e.time)).collect();
        (places, told)
    };
    let exact = run(&mut || 1.0 / 1000.0);
    assert!(exact.1.len() > 1 && exact.0.iter().any(|p| p.y > 3.0), "it climbs: {:?}", exact.1);
    let mut dice = Dice(5);
    let mut worst = 0.0f64;
    for rate in SIX_RATES.into_iter().chain([0.0]) {
        let (places, told) = run(&mut || if rate > 0.0 { 1.0 / rate } else { dice.between(0.001, 0.1) });
        let kinds =
            |told: &[(_, f64)]| told.iter().map(|t: &(std::mem::Discriminant<EventKind>, f64)| t.0).collect::<Vec<_>>();
        assert_eq!(kinds(&told), kinds(&exact.1), "{rate} Hz");
        let late = told.iter().zip(&exact.1).map(|(a, b)| (a.1 - b.1).abs()).fold(0.0, f64::max);
        assert!(late < 2e-3, "{rate} Hz: {late} s");
        worst = places.iter().zip(&exact.0).map(|(a, b)| a.distance(*b)).fold(worst, f64::max);
    }
    println!("a minute on a ladder: {:.4} mm apart", worst * 1e3);
    assert!(worst < 0.001, "{worst}");
}

#[test]
fn with_one_heading_along_a_known_way_the_modes_follow_each_other_as_they_must() {
    let expected =
        [Mode::Ground, Mode::Climb, Mode::Ledge, Mode::Ground, Mode::Air, Mode::Ground, Mode::Ledge, Mode::Ground];
    for rate in SIX_RATES {
        // Up the ladder, over its top, off the far side, and up onto a block there.
        let block = World::new().block([9.0, 0.0, -5.0], [15.0, 1.2, 5.0]);
        let tuning = climber(|v| v.ledge = Some(Ledge::default()));
        let mut ascent = Ascent::new(wall_with_ladder().with(block.mesh()), tuning, [0.0, 0.0, 0.0]);
        let mut modes = vec![ascent.hero.mode];
        while ascent.hero.position.x < 12.0 && ascent.hero.clock < 20.0 {
            ascent.until(ascent.hero.clock + 1.0 / rate, rate, Intent::toward(Vec3::X));
            if modes.last() != Some(&ascent.hero.mode) {
                modes.push(ascent.hero.mode);
            }
        }
        assert_eq!(modes, expected, "{rate} Hz");
    }
}

#[test]
fn on_request_it_lets_itself_down_over_an_edge_onto_a_ladder_or_to_hang() {
    for rate in SIX_RATES {
        // At the top of the ladder, looking out over the edge: down onto it, in its middle, and down to the ground.
        let hands = |v: &mut TuningValues| v.ledge = Some(Ledge::default());
        let mut down = Ascent::new(wall_with_ladder(), climber(hands), [1.2, 6.0, 0.1]);
        let look = Intent::toward(Vec3::NEG_X * 1e-3);
        down.until(0.3, rate, look).until(0.4, rate, look.hold(Button::Grab)).until(2.0, rate, Intent::default());
        assert_eq!(down.hero.mode, Mode::Climb, "{rate} Hz: {:?} {}", down.events, down.hero.position);
        assert!((down.hero.position.y - 4.6).abs() < 1e-3, "{rate} Hz: {}", down.hero.position);
        assert!((down.hero.facing - Vec3::X).length() < 1e-3, "it looks at the ladder: {}", down.hero.facing);
        down.until(5.0, rate, stick(0.0, -1.0));
        assert!(down.hero.mode == Mode::Ground && down.hero.position.y.abs() < 1e-3, "{rate} Hz: {:?}", down.hero.mode);
        // Beside the ladder there is nothing to climb: it hangs from the edge, as high as it is tuned to.
        let mut hang = Ascent::new(wall_with_ladder(), climber(hands), [1.2, 6.0, 2.0]);
        hang.until(0.3, rate, look).until(0.4, rate, look.hold(Button::Grab)).until(2.0, rate, Intent::default());
        assert!(hang.hero.mode == Mode::Ledge && hang.hero.phase == Phase::Plain, "{rate} Hz: {:?}", hang.events);
        assert!((hang.hero.position.y - 4.7).abs() < 1e-3, "{rate} Hz: {}", hang.hero.position);
        let still = hang.hero.position;
        assert_eq!(hang.until(3.0, rate, Intent::default()).hero.position, still);
        // And up again.
        hang.until(4.5, rate, stick(0.0, 1.0).in_stance(Stance::Stand));
        assert!(hang.hero.mode == Mode::Ground && hang.hero.position.y > 5.99, "{rate} Hz: {:?}", hang.events);
        // Away from any edge there is nothing to hold.
        let mut none = Ascent::new(wall_with_ladder(), climber(hands), [2.5, 6.0, 2.0]);
        none.until(0.3, rate, Intent::default().hold(Button::Grab));
        assert!(none.hero.mode == Mode::Ground && none.when(|k| matches!(k, EventKind::Refused { .. })).is_some());
    }
}

#[test]
fn switched_off_it_falls_and_says_why_it_takes_no_hold_and_what_it_has_begun_it_ends() {
    let grab = Intent::toward(Vec3::X).hold(Button::Grab);
    let why = |ascent: &Ascent| {
        let refused = ascent.when(|k| matches!(k, EventKind::Refused { ability: Ability::Grab, .. }));
        refused.map(|e| if let EventKind::Refused { why, .. } = e.kind { Some(why) } else { None }).and_then(|w| w)
    };
    for rate in SIX_RATES {
        let mut ascent = Ascent::new(wall_with_ladder(), climber(|_| {}), [0.0, 0.0, 0.0]);
        ascent.until(1.5, rate, Intent::toward(Vec3::X));
        ascent.modifiers.can_climb = false;
        ascent.until(1.6, rate, Intent::toward(Vec3::X));
        assert_eq!(ascent.when(ended).map(|e| e.kind), Some(EventKind::ClimbEnded { reason: HoldEnd::Interrupted }));
        ascent.modifiers.can_use_ledges = false;
        ascent.until(3.0, rate, Intent::toward(Vec3::X)).until(3.1, rate, grab);
        assert_eq!((ascent.hero.mode, why(&ascent)), (Mode::Ground, Some(Refusal::SwitchedOff)), "{rate} Hz");
        // Without ledges it still climbs over the top of a ladder, once.
        ascent.modifiers.can_climb = true;
        ascent.events.clear();
        ascent.until(6.0, rate, Intent::toward(Vec3::X)).until(7.0, rate, Intent::default());
        let ups = ascent.events.iter().filter(|e| matches!(e.kind, EventKind::PulledUp { .. })).count();
        assert_eq!((ups, ascent.hero.mode, ascent.hero.position.y > 5.99), (1, Mode::Ground, true), "{rate} Hz");
        let mut nothing = Ascent::new(wall_with_ladder(), climber(|_| {}), [-3.0, 0.0, 0.0]);
        nothing.until(0.1, rate, Intent::default().hold(Button::Grab));
        let mut plain = Ascent::new(wall_with_ladder(), Tuning::walker(), [-3.0, 0.0, 0.0]);
        plain.until(0.1, rate, Intent::default().hold(Button::Grab));
        assert_eq!((why(&nothing), why(&plain)), (Some(Refusal::NoHold), Some(Refusal::NotTuned)), "{rate} Hz");
    }
}
