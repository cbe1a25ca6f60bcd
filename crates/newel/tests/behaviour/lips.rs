//! The edge guard: what walks low never walks off an edge, and never sticks to one.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::DVec3;
use newel::{
    Character, EventKind, Form, Intent, LowStance, Modifiers, Spawn, Stance, Tick, Tuning, TuningValues, Workspace,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let crouch = Some(LowStance { guard: true, ..LowStance::crouch() });
    let mut values = TuningValues { crouch, ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

fn heading(degrees: f64) -> (Intent, DVec3) {
    let (sin, cos) = degrees.to_radians().sin_cos();
    let way = DVec3::new(cos, 0.0, sin);
    (Intent::toward(way.as_vec3()).in_stance(Stance::Crouch), way)
}

/// A convex platform, the corners of its top in order; it stands 6 m over the ground.
struct Platform {
    corners: Vec<DVec3>,
}

impl Platform {
    /// Between three and eight corners on a ring, tilted by up to `steepest` degrees.
    fn random(dice: &mut Dice, steepest: f64) -> Platform {
        let count = 3 + dice.pick(6);
        let (near, far) = (dice.between(0.5, 1.2), dice.between(0.7, 1.6));
        let start = dice.between(0.0, 6.3);
        let (tilt, toward) = (dice.between(0.0, steepest).to_radians().tan(), dice.between(0.0, 6.3));
        // On an ellipse, so that it is convex whatever the angles.
        let corner = |i: usize| {
            let angle = start + std::f64::consts::TAU * (i as f64 + dice.between(-0.3, 0.3)) / count as f64;
            let (x, z) = (far * angle.cos(), near * angle.sin());
            DVec3::new(x, tilt * (x * toward.cos() + z * toward.sin()), z)
        };
        Platform { corners: (0..count).map(corner).collect() }
    }

    fn middle(&self) -> DVec3 {
        self.corners.iter().sum::<DVec3>() / self.corners.len() as f64
    }

    fn world(&self) -> World {
        let middle = self.middle();
        let mut world = World::new().floor(9.0, -6.0);
        for (i, a) in self.corners.iter().enumerate() {
            let b = self.corners[(i + 1) % self.corners.len()];
            let down = DVec3::Y * -3.0;
            world = world.triangle(middle, b, *a).quad(*a, b, b + down, *a + down);
        }
        world
    }

    /// How far along `way` the guard lets the middle of a foot be, with an overhang that is a part of its radius.
    ///
    /// The touch may lean off the normal of the top by as much as it may lean off up, less the tilt.
    fn end(&self, way: DVec3, overhang: f64) -> f64 {
        let furthest = self.corners.iter().map(|c| c.dot(way)).fold(f64::NEG_INFINITY, f64::max);
        let normal = (self.corners[2] - self.corners[0]).cross(self.corners[1] - self.corners[0]).normalize();
        let leans = ((0.98 * overhang).asin() - normal.y.acos()).max(0.0);
        furthest + 0.3 * (leans.cos() * normal.dot(way) + leans.sin() * normal.dot(way).acos().sin())
    }
}

/// What came of crouch-walks over random platforms, each gone until it could go no further.
#[derive(Default)]
struct Tally {
    walks: u64,
    ticks: u64,
    /// How many fell.
    fallen: u64,
    /// How many ended more than 5 mm before or beyond the outermost place that their heading leads to, as far beyond the platform's
    /// corner as the guard lets the middle of a foot be; and by how much the worst of them did, metres.
    short: u64,
    beyond: u64,
    worst: f64,
}

fn walks(seeds: std::ops::Range<u64>, steepest: f64, asked: fn(Intent) -> Intent) -> Tally {
    let mut tally = Tally::default();
    for seed in seeds {
        let mut dice = Dice(seed * 31 + 7);
        let platform = Platform::random(&mut dice, steepest);
        let tuning = tuned(|v| v.ground.overhang = [0.5, 0.3, 0.8][seed as usize % 3]);
        let overhang = f64::from(tuning.values().ground.overhang);
        let Some(mut walk) = Walk::try_new(platform.world(), tuning, (platform.middle() + 0.02 * DVec3::Y).to_array())
        else {
            continue;
        };
        let rate = [15.0, 30.0, 60.0, 144.0][dice.pick(4)];
        walk.go(0.1, 0.3, asked(Intent::default().in_stance(Stance::Crouch)));
        if walk.airborne() {
            // Not on it from the start.
            continue;
        }
        for _ in 0..1 + dice.pick(2) {
            let (intent, way) = heading(dice.between(0.0, 360.0));
            let intent = asked(intent);
            let mut still = 0;
            for tick in 0..(400.0 * rate) as u32 {
                let before = walk.hero.position;
                walk.tick(1.0 / rate, intent);
                tally.ticks += 1;
                if walk.airborne() {
                    println!("seed {seed} at {rate} Hz, tick {tick}: {:?}", walk.events.last());
                    tally.fallen += 1;
                    break;
                }
                still = if (walk.hero.position - before).length() < 1e-5 / rate { still + 1 } else { 0 };
                if still > 2 {
                    break;
                }
            }
            if walk.airborne() {
                break;
            }
            let short = platform.end(way, overhang) - walk.hero.position.dot(way);
            tally.short += u64::from(short > 5e-3);
            if short.abs() > 5e-3 {
                println!("seed {seed} at {rate} Hz: {:.2} mm short", short * 1e3);
            }
            tally.beyond += u64::from(short < -5e-3);
            (tally.walks, tally.worst) = (tally.walks + 1, tally.worst.max(short.abs()));
        }
    }
    println!(
        "up to {steepest} degrees: {} walks, {} ticks, {} fell, {} ended over 5 mm before the end of their lip and {} beyond, at most {:.2} mm",
        tally.walks,
        tally.ticks,
        tally.fallen,
        tally.short,
        tally.beyond,
        tally.worst * 1e3
    );
    tally
}

/// Which platforms: `NEWEL_PLATFORMS=0..225000` are a million walks, an hour and three quarters of one core in an optimised build.
fn platforms(usual: u64) -> std::ops::Range<u64> {
    let asked = std::env::var("NEWEL_PLATFORMS").ok();
    let range = asked.as_deref().and_then(|text| text.split_once(".."));
    let numbers = range.and_then(|(from, to)| Some(from.parse().ok()?..to.parse().ok()?));
    numbers.unwrap_or(0..usual)
}

#[test]
fn no_crouch_walk_falls_off_a_platform_and_each_gets_to_the_end_of_its_lip() {
    for _ in every_frame() {
        let tally = walks(platforms(250), 0.0, |crouched| crouched);
        let off = tally.short + tally.beyond;
        assert!((tally.fallen, off) == (0, 0) && tally.walks > 250, "{off} of {}", tally.walks);
    }
}

#[test]
fn nor_off_one_that_tilts() {
    // What starts further out than the guard lets it go, on a platform of hardly its own size, may stay as far out.
    let tally = walks(platforms(600), 14.0, |crouched| crouched);
    let off = (tally.fallen, tally.short);
    assert!(off == (0, 0) && tally.beyond * 100 < tally.walks && tally.walks > 600, "{off:?}, {}", tally.beyond);
}

#[test]
fn nor_does_a_run_that_wants_to_be_guarded() {
    let upright = |crouched: Intent| crouched.in_stance(Stance::Stand).guarded();
    for steepest in [0.0, 14.0] {
        let tally = walks(platforms(300), steepest, upright);
        let off = (tally.fallen, tally.short);
        assert!(off == (0, 0) && tally.beyond * 100 < tally.walks && tally.walks > 300, "{off:?}, {}", tally.beyond);
    }
}

#[test]
fn without_the_guard_it_walks_off_and_with_it_a_step_down_is_no_edge() {
    for _ in every_frame() {
        for (guard, drop, falls) in [(true, 6.0, false), (false, 6.0, true), (true, 0.3, false)] {
            let world =
                World::new().block([-4.0, -9.0, -4.0], [1.0, 0.0, 4.0]).block([1.0, -9.0, -4.0], [5.0, -drop, 4.0]);
            let tuning = tuned(|v| v.crouch = Some(LowStance { guard, ..LowStance::crouch() }));
            let mut walk = Walk::new(world, tuning, [-1.0, 0.0, 0.0]);
            walk.go(1.0 / 60.0, 1.5, heading(0.0).0);
            assert_eq!(walk.hero.position.x > 1.5, falls || drop < 1.0, "{guard} {drop}: {}", walk.hero.position);
            let fell = walk.first(|k| matches!(k, EventKind::LeftGround { .. })).is_some();
            assert_eq!(fell, falls, "{guard} {drop}");
        }
    }
}

#[test]
fn from_the_side_capsules_and_boxes_stop_at_the_lip() {
    for form in [Form::Capsule, Form::Box] {
        let tuning = tuned(|v| v.size.form = form);
        let level = World::new().block([-4.0, -9.0, -4.0], [1.0, 0.0, 4.0]).mesh();
        for (rate, way) in SIX_RATES.into_iter().flat_map(|rate| [(rate, 1.0), (rate, -1.0)]) {
            let start = Spawn::at([0.0; 3]).in_plane(newel::glam::Vec3::Z);
            let mut hero = Character::spawn(&level, &tuning, start).expect("a clear place");
            let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
            let intent = Intent::toward(newel::glam::Vec3::X * way).in_stance(Stance::Crouch);
            for number in 0..(4.0 * rate) as u64 {
                let tick = Tick { number, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
                tick.step(&mut work, &mut hero, &intent, &[]).expect("a valid tick");
            }
            let end = if way > 0.0 { 1.147 } else { -4.147 };
            let off = (hero.position.x - end).abs();
            assert!(off < 2e-3 && hero.mode.is_on_ground(), "{form:?} at {rate} Hz: {}", hero.position);
        }
    }
}

#[test]
fn along_a_lip_it_goes_alike_at_every_rate() {
    for _ in every_frame() {
        let world = World::new().block([-4.0, -9.0, -4.0], [1.0, 0.0, 4.0]);
        let ends = SIX_RATES.map(|rate| {
            let mut walk = Walk::new(world.clone(), tuned(|_| {}), [0.0, 0.0, -3.0]);
            walk.go(1.0 / rate, 3.0, heading(40.0).0);
            walk.hero.position
        });
        let off = ends.iter().map(|end| (*end - ends[5]).length()).fold(0.0, f64::max);
        println!("{:.3} mm apart", off * 1e3);
        assert!(off < 5e-3 && ends[5].z > 0.5, "{ends:?}");
    }
}
