//! Characters that keep to a plane, seen from the side or from above, as capsules and as upright boxes.

use crate::common::oracle::{Dice, segment_to_triangle};
use crate::common::{SIX_RATES, Silent, World, sample};
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Ability, Button, Character, Event, EventKind, Face, Form, Heading, Intent, Jump, Mesh, Mode, Modifiers, Refusal,
    Spawn, SpawnError, Stance, Tick, Tuning, TuningValues, Workspace,
};

/// A flat world's tile: a rectangle of the plane z = 0, extruded across it.
fn tile(world: World, min: [f64; 2], max: [f64; 2]) -> World {
    world.block([min[0], min[1], -2.0], [max[0], max[1], 2.0])
}

fn tuning(form: Form) -> Tuning {
    let mut values = TuningValues::default();
    values.size.form = form;
    Tuning::new(values).unwrap()
}

struct Flat {
    world: World,
    mesh: Mesh,
    tuning: Tuning,
    hero: Character,
    events: Vec<Event>,
    work: Workspace,
}

impl Flat {
    fn side(world: World, form: Form, at: [f64; 3]) -> Flat {
        Flat::spawn(world, tuning(form), Spawn::at(at).in_plane(Vec3::Z))
    }

    fn spawn(world: World, tuning: Tuning, spawn: Spawn) -> Flat {
        let mesh = world.mesh();
        let hero = Character::spawn(&mesh, &tuning, spawn).expect("a clear place");
        Flat { world, mesh, tuning, hero, events: Vec::new(), work: Workspace::new() }
    }

    fn tick(&mut self, dt: f64, intent: Intent) {
        let modifiers = Modifiers::default();
        let terrain = Silent(&self.mesh);
        let tick = Tick { number: 0, terrain: &terrain, tuning: &self.tuning, modifiers: &modifiers, dt };
        let outcome = tick.step(&mut self.work, &mut self.hero, &intent, &[]).expect("a valid tick");
        self.events.extend(outcome.events.iter().copied().filter(crate::common::is_no_footstep));
        assert!(self.hero.facing.dot(self.hero.up).abs() < 1e-5, "{}", self.hero.facing);
    }

    fn go(&mut self, rate: f64, seconds: f64, intent: Intent) {
        (0..(seconds * rate).round() as u32).for_each(|_| self.tick(1.0 / rate, intent));
    }

    /// The gap between the tuned outline and the nearest triangle, in double precision, by a rounded rectangle of the
    /// test's own.
    fn gap(&self) -> f64 {
        let shape = self.tuning.shape_in(self.hero.stance);
        let (up, across) = (self.hero.up.as_dvec3(), self.hero.keeps.normal.as_dvec3());
        let (radius, height) = (f64::from(shape.radius), f64::from(shape.height));
        let feet = self.hero.position;
        let (rounding, sides) = if shape.form == Form::Capsule {
            (radius, vec![(feet + up * radius, feet + up * (height - radius))])
        } else {
            let rounding = 2.0 * f64::from(shape.skin());
            let above = across.dot(up).abs() > 0.5;
            let half = radius - rounding;
            let along = if above { any_level(up) } else { up };
            let tall = if above { half } else { height / 2.0 - rounding };
            let aside = across.cross(along) * half;
            let middle = feet + up * (height / 2.0);
            let (low, high) = (middle - along * tall, middle + along * tall);
            let [a, b, c, d] = [low - aside, low + aside, high + aside, high - aside];
            (rounding, vec![(a, b), (b, c), (c, d), (d, a)])
        };
        let corner = |i: u32| DVec3::from_array(self.world.corners[i as usize]);
        let triangles = self.world.indices.chunks_exact(3).map(|t| [corner(t[0]), corner(t[1]), corner(t[2])]);
        let gaps =
            triangles.flat_map(|t| sides.iter().map(move |s| segment_to_triangle(s.0, s.1, t)).collect::<Vec<_>>());
        gaps.fold(f64::INFINITY, f64::min) - rounding
    }

    fn count(&self, is: impl Fn(&EventKind) -> bool) -> usize {
        self.events.iter().filter(|e| is(&e.kind)).count()
    }
}

/// The fixed axis that a box seen from above is level along: documented to be any, and always the same.
fn any_level(up: DVec3) -> DVec3 {
    let away = if up.z.abs() < 0.9 { DVec3::Z } else { DVec3::X };
    let flat = away - up * away.dot(up);
    flat / flat.length()
}

const RIGHT: Vec3 = Vec3::X;

fn forms() -> [Form; 2] {
    [Form::Capsule, Form::Box]
}

#[test]
fn a_box_stands_flush_on_an_edge_and_slips_where_tuned() {
    let ledge = || tile(tile(World::new(), [-5.0, -1.0], [0.0, 0.0]), [-9.0, -6.0], [9.0, -5.0]);
    for (x, stands) in [(0.0, true), (0.14, true), (0.16, false), (0.29, false)] {
        let mut flat = Flat::side(ledge(), Form::Box, [x, 0.0, 0.0]);
        let before = flat.hero.position;
        for _ in 0..600 {
            flat.tick(1.0 / 60.0, Intent::default());
        }
        if stands {
            assert_eq!(flat.hero.position, before, "at {x}");
            assert!(flat.hero.mode == Mode::Ground && flat.hero.ground.support.is_firm(), "at {x}");
            assert!(before.y.abs() < 1e-6, "flush, and no lower at the edge: {before}");
        } else {
            assert!(
                (flat.hero.position.y + 5.0).abs() < 1e-3,
                "slipped off from {x}: {:?} {:?}",
                flat.hero.state(),
                flat.events
            );
            assert!(flat.hero.position.x > 0.29);
        }
    }
}

#[test]
fn a_box_runs_off_an_edge_where_the_overhang_says_at_every_rate() {
    for rate in SIX_RATES {
        for side in [1.0f32, -1.0] {
            let ledge = tile(tile(World::new(), [-6.0, -1.0], [6.0, 0.0]), [-19.0, -6.0], [19.0, -5.0]);
            let mut flat = Flat::side(ledge, Form::Box, [0.0; 3]);
            flat.go(rate, 2.0, Intent::toward(RIGHT * side));
            let left = flat.events.iter().find(|e| matches!(e.kind, EventKind::LeftGround { .. })).expect("an edge");
            let x = left.place.x * f64::from(side);
            assert!((x - 6.15).abs() < 0.003, "{rate} Hz, side {side}: left at {x}");
        }
    }
}

#[test]
fn running_over_tiles_never_catches_and_stays_in_the_plane() {
    for form in forms() {
        for rate in SIX_RATES {
            let mut world = World::new();
            for i in -4..60 {
                world = tile(world, [f64::from(i), -1.0], [f64::from(i + 1), 0.0]);
            }
            let mut flat = Flat::side(world, form, [0.0; 3]);
            flat.go(rate, 1.0, Intent::toward(RIGHT));
            for _ in 0..(4.0 * rate) as u32 {
                flat.tick(1.0 / rate, Intent::toward(Vec3::new(0.6, 0.0, 0.8)));
                assert_eq!((flat.hero.position.z, flat.hero.velocity.z), (0.0, 0.0));
                assert!(flat.hero.position.y.abs() < 1e-5, "{form:?} at {rate} Hz");
            }
            // The part of the stick that leads out of the plane does nothing.
            assert!((flat.hero.velocity.x - 0.6 * 4.5).abs() < 1e-6, "{form:?} at {rate} Hz: {}", flat.hero.velocity);
            assert!(flat.events.is_empty(), "{form:?} at {rate} Hz: {:?}", flat.events);
        }
    }
}

#[test]
fn steps_slopes_walls_and_ceilings_work_as_in_space() {
    for form in forms() {
        for rate in SIX_RATES {
            // Three stairs, a landing, a wall at x = 6.
            let mut world = tile(World::new(), [-9.0, -1.0], [9.0, 0.0]);
            for i in 0..3 {
                world = tile(world, [2.0 + 0.4 * f64::from(i), 0.0], [9.0, 0.2 * f64::from(i + 1)]);
            }
            world = tile(world, [6.0, 0.0], [9.0, 4.0]);
            let mut flat = Flat::side(world, form, [0.0; 3]);
            flat.go(rate, 3.0, Intent::toward(RIGHT));
            let at = flat.hero.position;
            assert!((at.x - 5.7).abs() < 1e-4 && (at.y - 0.6).abs() < 1e-4, "{form:?} at {rate} Hz: {at}");
            assert_eq!(flat.count(|k| matches!(k, EventKind::LeftGround { .. })), 0, "{form:?} at {rate} Hz");
            flat.go(rate, 3.0, Intent::toward(-RIGHT));
            assert!(flat.hero.position.y.abs() < 1e-4 && flat.hero.position.x < 0.0, "{form:?}: back down");
            assert_eq!(flat.count(|k| matches!(k, EventKind::LeftGround { .. })), 0, "{form:?} at {rate} Hz");
        }
        // One millimetre decides a step, and a tenth a passage.
        for (height, taken) in [(0.349, true), (0.351, false)] {
            let world = tile(tile(World::new(), [-9.0, -1.0], [9.0, 0.0]), [2.0, 0.0], [9.0, height]);
            let mut flat = Flat::side(world, form, [0.0; 3]);
            flat.go(60.0, 2.0, Intent::toward(RIGHT));
            assert_eq!(flat.hero.position.y > 0.3, taken, "{form:?}, {height} m: {}", flat.hero.position);
        }
        for (roof, passes) in [(1.8001, true), (1.7999, false)] {
            let world = tile(tile(World::new(), [-9.0, -1.0], [9.0, 0.0]), [2.0, roof], [4.0, 3.0]);
            let mut flat = Flat::side(world, form, [0.0; 3]);
            flat.go(60.0, 2.0, Intent::toward(RIGHT));
            assert_eq!(flat.hero.position.x > 4.0, passes, "{form:?} under {roof} m: {}", flat.hero.position);
        }
    }
}

#[test]
fn a_slope_carries_both_shapes_at_full_speed_and_at_rest() {
    for form in forms() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let tan = 30f64.to_radians().tan();
        let world = World::new().quad(
            p(-5.0, -5.0 * tan, -2.0),
            p(-5.0, -5.0 * tan, 2.0),
            p(20.0, 20.0 * tan, 2.0),
            p(20.0, 20.0 * tan, -2.0),
        );
        let mut flat = Flat::side(world, form, [0.0, 0.6, 0.0]);
        flat.go(60.0, 1.0, Intent::default());
        let before = flat.hero.position;
        flat.go(60.0, 10.0, Intent::default());
        assert_eq!(flat.hero.position, before, "{form:?}");
        flat.go(60.0, 1.0, Intent::toward(RIGHT));
        assert!((flat.hero.velocity.length() - 4.5).abs() < 1e-6, "{form:?}: {}", flat.hero.velocity);
        assert!(flat.gap().abs() < 1e-5, "{form:?}: {}", flat.gap());
    }
}

#[test]
fn a_flat_head_is_nudged_past_a_corner_too() {
    for (form, nudge) in forms().into_iter().flat_map(|form| [(form, 0.0), (form, 0.2)]) {
        let mut values = *tuning(form).values();
        values.jump = Some(Jump { height: 1.6, nudge, ..values.jump.unwrap() });
        let world = tile(tile(World::new(), [-9.0, -1.0], [9.0, 0.0]), [-5.0, 2.3], [0.05, 2.6]);
        let spawn = Spawn::at([0.2, 0.0, 0.0]).in_plane(Vec3::Z);
        let mut flat = Flat::spawn(world, Tuning::new(values).unwrap(), spawn);
        flat.go(60.0, 0.8, Intent::default().hold(Button::Jump));
        let top = flat.events.iter().map(|e| e.place.y).fold(0.0, f64::max);
        let bumped = flat.events.iter().any(|e| matches!(e.kind, EventKind::Bumped { .. }));
        assert_eq!((bumped, (top - 1.6).abs() < 1e-3), (nudge == 0.0, nudge > 0.0), "{form:?}, {nudge}: {top}");
        assert_eq!(flat.hero.position.z, 0.0);
    }
}

#[test]
fn what_leads_across_the_plane_leads_nowhere() {
    let tuning = Tuning::brisk_hero();
    let (up, across) =
        (Vec3::new(0.333_718_5, 0.588_002_7, 0.736_807_2), Vec3::new(-0.869_646_2, -0.109_605_69, 0.481_354_5));
    let world = World::new().plane(DVec3::ZERO, up.as_dvec3(), 50.0);
    for heading in [Heading::Body(Vec2::new(-1.0, 0.1)), Heading::Body(Vec2::Y), Heading::World(across)] {
        let spawn = Spawn::at([0.0; 3]).up(up).in_plane(across).facing(across);
        let mut flat = Flat::spawn(world.clone(), tuning, spawn);
        flat.go(60.0, 0.5, Intent::new(heading).facing(Face::Movement));
        let from = flat.hero.position;
        flat.go(60.0, 0.5, Intent::new(Heading::World(across)).facing(Face::Nothing).hold(Button::Dash));
        let off = (flat.hero.position - from).dot(across.as_dvec3());
        assert!(off.abs() < 1e-6, "{heading:?}: {off}");
    }
    let mut flat = Flat::spawn(world, tuning, Spawn::at([0.0; 3]).up(up).in_plane(across).facing(across));
    flat.go(60.0, 0.1, Intent::default().hold(Button::Dash));
    assert_eq!(flat.events[0].kind, EventKind::Refused { ability: Ability::Dash, why: Refusal::NoWay });
}

#[test]
fn random_flat_worlds_are_never_entered_from_the_side_or_above_whatever_is_up() {
    let (mut ticks, mut deepest, mut off, mut dropped) = (0, 0.0f64, 0.0f64, 0);
    let mut failures = Vec::new();
    for seed in 0..sample(120) {
        let mut dice = Dice(seed);
        let form = forms()[dice.pick(2)];
        let above = dice.pick(2) == 0;
        // Blocks extruded across the plane: z from the side, y from above.
        let mut world = World::new();
        if !above {
            world = tile(world, [-12.0, -2.0], [12.0, -1.0]);
        }
        for _ in 0..25 {
            let at = DVec3::new(dice.between(-6.0, 6.0), dice.between(-1.0, 4.0), dice.between(-1.0, 4.0));
            let half = DVec3::splat(1.0) * dice.magnitude(0.05, 1.0);
            let (mut min, mut max) = (at - half, at + half);
            if above {
                (min.y, max.y) = (-5.0, 5.0)
            } else {
                (min.z, max.z) = (-5.0, 5.0)
            }
            let turn = dice.between(-0.7, 0.7);
            let spin = if above { DQuat::from_rotation_y(turn) } else { DQuat::from_rotation_z(turn) };
            let block = World::new().block(min.to_array(), max.to_array()).mapped(|p| at + spin * (p - at));
            for t in block.indices.chunks_exact(3) {
                let corner = |i: u32| DVec3::from_array(block.corners[i as usize]);
                world = world.triangle(corner(t[0]), corner(t[1]), corner(t[2]));
            }
        }
        let aside = if seed % 3 == 0 {
            DQuat::IDENTITY
        } else {
            DQuat::from_axis_angle(dice.direction(), dice.between(0.0, 3.0))
        };
        let turned = |v: DVec3| (aside * v).as_vec3();
        let world = world.mapped(|p| aside * p);
        let plane = if above { DVec3::Y } else { DVec3::Z };
        let start = aside * DVec3::new(dice.between(-6.0, 6.0), 5.5, if above { 6.5 } else { 0.0 });
        let spawn = Spawn::at(start).up(turned(DVec3::Y)).in_plane(turned(plane));
        let base = [Tuning::walker(), Tuning::brisk_hero()][dice.pick(2)];
        let mut values = *base.values();
        values.size.form = form;
        let tuning = Tuning::new(values).unwrap();
        let mesh = world.mesh();
        let Ok(hero) = Character::spawn(&mesh, &tuning, spawn) else { continue };
        let plane = hero.position;
        let mut flat = Flat { world, mesh, tuning, hero, events: Vec::new(), work: Workspace::new() };
        let rate = [15.0, 60.0, 240.0][dice.pick(3)];
        let mut intent = Intent::default();
        for tick in 0..(6.0 * rate) as u32 {
            if dice.pick((0.4 * rate) as usize + 1) == 0 {
                intent = Intent::toward(dice.direction().as_vec3() * 1.5).in_stance(Stance::ALL[dice.pick(3)]);
                for &button in Button::ALL {
                    if dice.pick(3) == 0 {
                        intent = intent.hold(button);
                    }
                }
            }
            flat.tick(1.0 / rate, intent);
            ticks += 1;
            let gap = flat.gap();
            deepest = deepest.max(-gap);
            off = off.max((flat.hero.position - plane).dot(flat.hero.keeps.normal.as_dvec3()).abs());
            dropped += flat.count(|k| matches!(k, EventKind::TimeDropped { .. }));
            let stuck = flat.count(|k| matches!(k, EventKind::Stuck | EventKind::PushedOut { .. }));
            if gap < -0.0001 || stuck > 0 || !flat.hero.velocity.is_finite() {
                failures.push(format!(
                    "seed {seed} {form:?} above {above} at {rate} Hz, tick {tick}: gap {gap}, {:?}",
                    flat.events
                ));
                break;
            }
            flat.events.clear();
        }
    }
    println!("{ticks} ticks, deepest {:.4} mm, {off:e} m off the plane, {dropped} dropped", deepest * 1e3);
    assert!(failures.is_empty(), "{} failures:\n{}", failures.len(), failures[..failures.len().min(12)].join("\n"));
    assert!(off < 1e-8);
}

#[test]
fn from_above_walls_stop_and_slide_and_nothing_falls() {
    for form in forms() {
        let world = World::new().block([2.0, -3.0, -9.0], [3.0, 3.0, 9.0]);
        let spawn = Spawn::at([0.0, 0.0, 0.0]).in_plane(Vec3::Y);
        let mut flat = Flat::spawn(world, tuning(form), spawn);
        flat.go(60.0, 2.0, Intent::toward(Vec3::new(0.6, 0.0, 0.8)).hold(Button::Jump));
        let at = flat.hero.position;
        assert!((at.x - 1.7).abs() < 1e-5 && at.y == 0.0 && at.z > 6.0, "{form:?}: {at}");
        assert!((flat.hero.velocity.z - 0.8 * 4.5).abs() < 1e-6, "{form:?}: {}", flat.hero.velocity);
        let refused = EventKind::Refused { ability: Ability::Jump, why: Refusal::FromAbove };
        let hit = |kind: &EventKind| matches!(kind, EventKind::HitWall { speed, .. } if (speed - 2.7).abs() < 1e-3);
        let kinds: Vec<EventKind> = flat.events.iter().map(|e| e.kind).collect();
        assert!(matches!(&kinds[..], [first, last] if *first == refused && hit(last)), "{form:?}: {kinds:?}");
    }
}

#[test]
fn a_box_without_a_plane_and_a_plane_askew_are_refused() {
    let mesh = tile(World::new(), [-5.0, -1.0], [5.0, 0.0]).mesh();
    let spawn = |form, plane| Character::spawn(&mesh, &tuning(form), Spawn::at([0.0; 3]).in_plane(plane)).map(|_| ());
    assert_eq!(spawn(Form::Box, Vec3::ZERO), Err(SpawnError::NoPlane));
    assert!(matches!(spawn(Form::Capsule, Vec3::new(0.0, 0.5, 1.0)), Err(SpawnError::PlaneAskew { .. })));
    assert!(spawn(Form::Box, Vec3::Z * 3.0).is_ok());
}
