//! Nothing passes through anything, and nothing free is stopped.

use crate::common::oracle::{Dice, segment_to_triangle};
use crate::common::{Walk, World, every_frame, sample};
use newel::glam::{DVec3, Vec3};
use newel::{Character, Command, Intent, Launch, Mesh, Modifiers, Spawn, Tick, Tuning, Workspace};

/// Moves in all rooms together.
const MOVES: u64 = 1_500_000;
const ROOMS: u64 = 300;

/// Up: upright, with gravity along +x, and oblique.
const UPS: [DVec3; 3] = [DVec3::Y, DVec3::NEG_X, DVec3::new(0.48, 0.6, -0.64)];

/// A closed room of zero-thickness walls: every face of a box cut into cells, corners pushed about, half of the
/// triangles turned inside out.
struct Room {
    triangles: Vec<[DVec3; 3]>,
    mesh: Mesh,
}

impl Room {
    fn new(dice: &mut Dice) -> Room {
        let cells = 1 + dice.pick(3) as i64;
        let size = DVec3::new(dice.between(2.0, 9.0), dice.between(2.5, 9.0), dice.between(2.0, 9.0));
        let seed = dice.unit().to_bits();
        let corner = |i: i64, j: i64, k: i64| {
            let mut own = Dice(seed ^ ((i * 73_856_093) ^ (j * 19_349_663) ^ (k * 83_492_791)) as u64);
            let at = DVec3::new(i as f64, j as f64, k as f64) / cells as f64 * size;
            at + DVec3::new(own.between(-0.2, 0.2), own.between(-0.2, 0.2), own.between(-0.2, 0.2))
        };
        let mut triangles = Vec::new();
        for axis in 0..3 {
            for side in [0, cells] {
                for u in 0..cells {
                    for v in 0..cells {
                        let p = |du: i64, dv: i64| match axis {
                            0 => corner(side, u + du, v + dv),
                            1 => corner(u + du, side, v + dv),
                            _ => corner(u + du, v + dv, side),
                        };
                        for t in [[p(0, 0), p(1, 0), p(1, 1)], [p(0, 0), p(1, 1), p(0, 1)]] {
                            triangles.push(if dice.pick(2) == 0 { t } else { [t[0], t[2], t[1]] });
                        }
                    }
                }
            }
        }
        let world = triangles.iter().fold(World::new(), |w, t| w.triangle(t[0], t[1], t[2]));
        Room { mesh: world.mesh(), triangles }
    }

    /// The distance from the character's inner segment to the nearest triangle.
    fn clearance(&self, hero: &Character, tuning: &Tuning) -> f64 {
        let (radius, height) = (f64::from(tuning.shape().radius), f64::from(tuning.shape().height));
        self.distance(hero.position, hero.up.as_dvec3(), radius, height)
    }

    fn distance(&self, feet: DVec3, up: DVec3, radius: f64, height: f64) -> f64 {
        let (low, high) = (feet + up * radius, feet + up * (height - radius));
        self.triangles.iter().map(|t| segment_to_triangle(low, high, *t)).fold(f64::INFINITY, f64::min)
    }

    /// True where a straight way is free for the tuned size, found by going on by the gap there is, over and over.
    fn is_free(&self, from: DVec3, up: DVec3, way: DVec3) -> bool {
        let (length, mut gone) = (way.length(), 0.0);
        for _ in 0..4000 {
            let gap = self.distance(from + way * (gone / length), up, 0.3, 1.8) - 0.3;
            // In touch at the start is free if it leads away.
            if gap < 1e-6 && gone > 1e-4 {
                return false;
            }
            gone += gap.max(1e-5);
            if gone >= length {
                return true;
            }
        }
        false
    }

    /// True where a point is inside, by how often a slanted ray leaves.
    fn holds(&self, point: DVec3) -> bool {
        let along = DVec3::new(0.123_456, 0.987_654, 0.096_321);
        let crosses = |t: &&[DVec3; 3]| {
            let (ab, ac) = (t[1] - t[0], t[2] - t[0]);
            let across = along.cross(ac);
            let off = point - t[0];
            let u = off.dot(across) / ab.dot(across);
            let v = along.dot(off.cross(ab)) / ab.dot(across);
            u >= 0.0 && v >= 0.0 && u + v <= 1.0 && ac.dot(off.cross(ab)) / ab.dot(across) > 0.0
        };
        self.triangles.iter().filter(crosses).count() % 2 == 1
    }

    fn spawn(&self, tuning: &Tuning, up: DVec3) -> Option<Character> {
        let middle =
            self.triangles.iter().map(|t| (t[0] + t[1] + t[2]) / 3.0).sum::<DVec3>() / self.triangles.len() as f64;
        let hero = Character::spawn(&self.mesh, tuning, Spawn::at(middle - up * 0.9).up(up.as_vec3())).ok()?;
        self.holds(hero.position + up * 0.9).then_some(hero)
    }
}

#[test]
fn a_million_fast_moves_in_closed_rooms_let_nothing_out() {
    let tuning = Tuning::walker();
    let skin = f64::from(tuning.shape().skin());
    let mut moves = 0;
    let mut deepest = f64::INFINITY;
    let mut work = Workspace::new();
    for seed in 0..ROOMS {
        let mut dice = Dice(seed);
        let room = Room::new(&mut dice);
        let up = UPS[seed as usize % UPS.len()];
        let Some(mut hero) = room.spawn(&tuning, up) else { continue };
        for number in 0..sample(MOVES / ROOMS) {
            let speed = dice.magnitude(1.0, 1000.0);
            let t = room.triangles[dice.pick(room.triangles.len())];
            // At a corner, along an edge, into a face, or anywhere.
            let aim = match dice.pick(4) {
                0 => t[0],
                1 => t[0] + (t[1] - t[0]) * dice.unit(),
                2 => (t[0] + t[1] + t[2]) / 3.0,
                _ => hero.position + dice.direction(),
            };
            let way = aim - hero.position - up * dice.between(0.0, 1.8);
            let velocity = way / way.length() * speed;
            let dt = 1.0 / dice.between(10.0, 240.0);
            let tick = Tick { number, terrain: &room.mesh, tuning: &tuning, modifiers: &Modifiers::default(), dt };
            let intent = Intent::toward(dice.direction().as_vec3());
            let before = hero.clone();
            tick.step(&mut work, &mut hero, &intent, &[Command::Launch(Launch::at(velocity))]).expect("a valid tick");
            let clearance = room.clearance(&hero, &tuning);
            deepest = deepest.min(clearance - 0.3);
            assert!(
                clearance > 0.3 - skin,
                "seed {seed} move {number}: {clearance}, from {before:?} at {velocity} for {dt}"
            );
            assert!(room.holds(hero.position + up * 0.9), "seed {seed} move {number}: out of the room");
            moves += 1;
        }
    }
    println!("{moves} moves, deepest {:.4} mm under the surface (the skin is {} mm)", -deepest * 1e3, skin * 1e3);
    assert!(moves >= sample(1_000_000));
}

#[test]
fn a_way_that_is_open_is_taken_in_full() {
    let tuning = Tuning::walker();
    let still = Modifiers { gravity: 0.0, acceleration: 0.0, ..Modifiers::default() };
    let (mut free, mut short, mut worst) = (0u32, 0, 0.0f64);
    let mut work = Workspace::new();
    for seed in 0..120u32 {
        let mut dice = Dice(u64::from(seed) + 5000);
        let room = Room::new(&mut dice);
        let up = UPS[seed as usize % UPS.len()];
        let Some(mut hero) = room.spawn(&tuning, up) else { continue };
        for number in 0..100 {
            // As often up against a wall, and along it, as anywhere.
            let dt = 1.0 / dice.between(10.0, 240.0);
            let way = dice.direction() * dice.magnitude(0.01, 6.0);
            let velocity = way / dt;
            let from = hero.position;
            let open = room.is_free(from, up, way);
            let tick = Tick { number, terrain: &room.mesh, tuning: &tuning, modifiers: &still, dt };
            let launch = Command::Launch(Launch::at(velocity));
            tick.step(&mut work, &mut hero, &Intent::default(), &[launch]).expect("a valid tick");
            if open {
                let off = (hero.position - from - way).length();
                free += 1;
                worst = worst.max(off);
                short += u32::from(off > 1e-3);
            }
        }
    }
    println!("{free} free moves, {short} not in full, the worst {:.6} mm short", worst * 1e3);
    assert!(free > 2000 && f64::from(short) <= 0.001 * f64::from(free), "{short} of {free}");
}

#[test]
fn a_slit_a_tenth_of_a_millimetre_too_narrow_refuses_and_one_as_much_wider_lets_pass() {
    for _ in every_frame() {
        for (spare, passes) in [(-0.0001, false), (0.0001, true)] {
            for turn in [0.0, 0.3, 1.1] {
                for (offset, height) in [(0.0, 3.0), (0.02, 3.0), (-0.02, 0.9)] {
                    let half = 0.3 + spare / 2.0;
                    let (sin, cos) = f64::sin_cos(turn);
                    let world = World::new()
                        .block([1.0, 0.0, half], [2.0, height, 5.0])
                        .block([1.0, 0.0, -5.0], [2.0, height, -half])
                        .mapped(|p| DVec3::new(p.x * cos - p.z * sin, p.y, p.x * sin + p.z * cos))
                        .floor(30.0, 0.0);
                    let mut walk = Walk::new(world, Tuning::walker(), [-offset * sin, 0.0, offset * cos]);
                    walk.go(1.0 / 60.0, 4.0, Intent::toward(Vec3::new(cos as f32, 0.0, sin as f32)));
                    let hero = &walk.hero;
                    let gone = hero.position.x * cos + hero.position.z * sin;
                    assert_eq!(
                        gone > 3.0,
                        passes,
                        "{spare} m to spare, turned {turn}, from {offset}: {}",
                        hero.position
                    );
                }
            }
        }
    }
}
