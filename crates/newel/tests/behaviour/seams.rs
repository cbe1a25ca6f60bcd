//! Seams underfoot and along walls: floors of slivers, T-junctions, unwelded copies, pipes.

use crate::common::oracle::Dice;
use crate::common::{Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{Intent, Mode, Tuning};

/// A floor tilted by `degrees` about z, cut across the walk into strips of 1 to 10 mm, each split along a diagonal;
/// about a place `far` from the origin.
fn slivers(degrees: f64, far: f64) -> World {
    let tilt = degrees.to_radians();
    let at = |x: f64, z: f64| DVec3::new(far + x * tilt.cos(), far / 2.0 + x * tilt.sin(), z - far);
    let mut dice = Dice(7);
    let mut world = World::new();
    let mut x = -1.0;
    while x < 5.0 {
        let next = x + dice.between(0.001, 0.010);
        world = world.quad(at(x, -2.0), at(x, 2.0), at(next, 2.0), at(next, -2.0));
        x = next;
    }
    world
}

#[test]
fn a_tilted_floor_of_slivers_is_walked_as_one_here_and_a_kilometre_away() {
    for _ in every_frame() {
        for far in [0.0, 1000.0] {
            for rate in [30.0, 60.0, 240.0] {
                let world = slivers(17.0, far);
                let mut walk = Walk::new(world, Tuning::walker(), [far, far / 2.0 + 0.02, -far]);
                walk.go(1.0 / rate, 0.3, Intent::default());
                walk.go(1.0 / rate, 0.2, Intent::toward(Vec3::X));
                let (tan, gap) = (17f64.to_radians().tan(), walk.hero.position.y - far / 2.0);
                let above = gap - (walk.hero.position.x - far) * tan;
                let (from, mut ticks) = (walk.hero.position, 0.0);
                for tick in 0..(0.6 * rate) as u64 {
                    walk.tick(1.0 / rate, Intent::toward(Vec3::X));
                    ticks += 1.0;
                    let at = walk.hero.position;
                    assert!((walk.hero.velocity.length() - 4.5).abs() < 1e-6, "{far} m, {rate} Hz, tick {tick}");
                    let off = at.y - far / 2.0 - (at.x - far) * tan - above;
                    assert!(off.abs() < 1e-3, "{far} m, {rate} Hz, tick {tick}: {off} off");
                    assert_eq!(walk.hero.mode, Mode::Ground);
                }
                let speed = (walk.hero.position - from).length() * rate / ticks;
                println!("{far} m, {rate} Hz: {:.5} %", (speed / 4.5 - 1.0) * 100.0);
                assert!((speed - 4.5).abs() < 2e-4 * 4.5, "{far} m, {rate} Hz: {speed}");
            }
        }
    }
}

#[test]
fn t_junctions_cracks_and_copies_do_not_catch() {
    for _ in every_frame() {
        let mut dice = Dice(3);
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        // Columns of tiles of different sizes, edges meeting edges midway, some tiles doubled, some 20 micrometres off.
        let mut world = World::new();
        let mut x = -2.0;
        while x < 12.0 {
            let wide = dice.between(0.05, 0.7);
            let mut z = -3.0;
            while z < 3.0 {
                let deep = dice.between(0.05, 0.9);
                let y = if dice.pick(4) == 0 { 2e-5 } else { 0.0 };
                world = world.quad(p(x, y, z), p(x, y, z + deep), p(x + wide, y, z + deep), p(x + wide, y, z));
                if dice.pick(5) == 0 {
                    world = world.quad(p(x, y, z), p(x + wide, y, z), p(x + wide, y, z + deep), p(x, y, z + deep));
                }
                z += deep;
            }
            x += wide;
        }
        for z in [-0.4, 0.0, 0.37] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.0, 0.01, z]);
            walk.go(1.0 / 60.0, 0.5, Intent::default());
            walk.go(1.0 / 60.0, 0.3, Intent::toward(Vec3::new(1.0, 0.0, 0.1)));
            for tick in 0..120 {
                walk.tick(1.0 / 60.0, Intent::toward(Vec3::new(1.0, 0.0, 0.1)));
                assert!((walk.hero.velocity.length() - 4.5).abs() < 1e-3, "tick {tick}: {}", walk.hero.velocity);
                assert_eq!(walk.hero.mode, Mode::Ground, "tick {tick}: {:?}", walk.events.last());
            }
        }
    }
}

#[test]
fn a_wall_of_many_quads_feels_like_one() {
    for _ in every_frame() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let mut dice = Dice(11);
        let mut world = World::new().floor(400.0, 0.0);
        let mut z = -20.0;
        while z < 320.0 {
            let (next, split) = (z + dice.between(0.05, 1.3), dice.between(0.2, 1.6));
            for (low, high) in [(0.0, split), (split, 3.0)] {
                world = world.quad(p(1.0, low, z), p(1.0, high, z), p(1.0, high, next), p(1.0, low, next));
            }
            z = next;
        }
        let heading = Vec3::new(0.1f32.to_radians().sin(), 0.0, 0.1f32.to_radians().cos());
        for rate in [15.0, 60.0, 240.0] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.69, 0.0, 0.0]);
            walk.go(1.0 / rate, 2.0, Intent::toward(Vec3::new(0.3, 0.0, 1.0)));
            let along = 4.5 * f64::from(heading.z);
            walk.go(1.0 / rate, 1.0, Intent::toward(heading));
            // Ten minutes, a minute each way by turns: along, and after every turn as freely back.
            for minute in 0..10 {
                let side = if minute % 2 == 0 { 1.0 } else { -1.0 };
                let pressed = Intent::toward(Vec3::new(heading.x, 0.0, heading.z * side));
                walk.go(1.0 / rate, 1.0, pressed);
                let (from, start) = (walk.hero.position.z, walk.hero.clock);
                for tick in 0..(59.0 * rate) as u64 {
                    walk.tick(1.0 / rate, pressed);
                    assert!(tick % 8 != 0 || walk.gap() > -0.0045, "{}", walk.gap());
                }
                let speed = (walk.hero.position.z - from) / (walk.hero.clock - start) * f64::from(side);
                assert!((speed - along).abs() < 2e-4 * along, "{rate} Hz, minute {minute}: {speed} {along}");
            }
            walk.go(1.0 / rate, 0.5, Intent::toward(Vec3::NEG_X));
            assert!(walk.hero.velocity.x < -4.0, "it comes off freely: {}", walk.hero.velocity);
        }
    }
}

/// The walk round the inside of a pipe by formula: on each side the speed goes to what the heading gives along it at the
/// tuned acceleration, and every corner leaves its cosine of the speed.
struct PipeWalk {
    sides: u32,
    /// Length of a side of the path of the character's middle.
    side: f64,
    speed: f64,
    /// Which side, and how far along.
    at: (u32, f64),
}

impl PipeWalk {
    fn direction(&self) -> DVec3 {
        let angle = std::f64::consts::TAU * (f64::from(self.at.0) + 0.5) / f64::from(self.sides);
        DVec3::new(-angle.sin(), 0.0, angle.cos())
    }

    /// One tick with the same wish, m/s.
    fn tick(&mut self, dt: f64, wish: DVec3, acceleration: f64) {
        let mut left = dt;
        let bend = (std::f64::consts::TAU / f64::from(self.sides)).cos();
        while left > 0.0 {
            let target = wish.dot(self.direction());
            let rate = acceleration * (target - self.speed).signum();
            let ramp = ((target - self.speed) / rate).max(0.0);
            let room = self.side - self.at.1;
            // To the end of the tick, of the ramp or of the side, whichever is first.
            let ramping = ramp > 1e-12;
            let (a, v) = if ramping { (rate, self.speed) } else { (0.0, target) };
            let reach = if a == 0.0 { room / v } else { ((v * v + 2.0 * a * room).sqrt() - v) / a };
            let span = left.min(if ramping { ramp } else { f64::INFINITY }).min(reach);
            self.at.1 += v * span + 0.5 * a * span * span;
            self.speed = v + a * span;
            left -= span;
            if span == reach {
                self.at = (self.at.0 + 1, 0.0);
                self.speed *= bend;
            }
        }
    }

    fn way(&self) -> f64 {
        f64::from(self.at.0) * self.side + self.at.1
    }
}

#[test]
fn round_a_pipe_of_64_sides_pressing_out_the_speed_is_the_formulas() {
    for _ in every_frame() {
        let sides = 64;
        let radius = 6.0;
        let corner = |i: u32, y: f64| {
            let angle = std::f64::consts::TAU * f64::from(i) / f64::from(sides);
            DVec3::new(radius * angle.cos(), y, radius * angle.sin())
        };
        let wall = |w: World, i: u32| w.quad(corner(i, 0.0), corner(i, 3.0), corner(i + 1, 3.0), corner(i + 1, 0.0));
        let world = (0..sides).fold(World::new().floor(20.0, 0.0), wall);
        let half = std::f64::consts::PI / f64::from(sides);
        // The middle goes round a polygon whose sides are 0.3 m further in.
        let inner = radius * half.cos() - 0.3;
        for (rate, out) in [(30.0, 0.02), (60.0, 0.3), (240.0, 0.3), (60.0, 1.0)] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [5.0, 0.0, 0.0]);
            let heading = |at: DVec3| {
                let away = DVec3::new(at.x, 0.0, at.z) / at.x.hypot(at.z);
                let way = DVec3::new(-away.z, 0.0, away.x) + away * out;
                (way / way.length()).as_vec3()
            };
            // A settling second along the first sides.
            walk.go(1.0 / rate, 0.3, Intent::toward(Vec3::new(1.0, 0.0, 0.2)));
            (0..(2.0 * rate) as u32).for_each(|_| walk.tick(1.0 / rate, Intent::toward(heading(walk.hero.position))));
            let angle = |at: DVec3| at.z.atan2(at.x).rem_euclid(std::f64::consts::TAU);
            let on = (angle(walk.hero.position) / (2.0 * half)).floor();
            let middle = (on + 0.5) * 2.0 * half;
            let along = DVec3::new(-middle.sin(), 0.0, middle.cos());
            let side = 2.0 * inner * half.tan();
            let start = walk.hero.position.dot(along) + side / 2.0;
            let mut formula = PipeWalk { sides, side, speed: walk.hero.velocity.length(), at: (on as u32, start) };
            let (mut gone, from) = (0.0, formula.way());
            for tick in 0..(30.0 * rate) as u64 {
                let before = walk.hero.position;
                let wish = heading(before);
                walk.tick(1.0 / rate, Intent::toward(wish));
                formula.tick(1.0 / rate, wish.as_dvec3() * 4.5, 30.0);
                // The way round, by the angle at the axis, which is what both have in common.
                gone += (angle(walk.hero.position) - angle(before) + 3.0).rem_euclid(std::f64::consts::TAU) - 3.0;
                assert!(walk.gap() > -0.0045, "tick {tick}: {}", walk.gap());
                assert_eq!(walk.hero.mode, Mode::Ground);
            }
            let expected = (formula.way() - from) / side * 2.0 * half;
            let off = (gone / expected - 1.0).abs();
            println!("pipe at {rate} Hz pressing {out}: {:.5} % off the formula", off * 100.0);
            assert!(off < 2e-4, "{rate} Hz pressing {out}: {gone} rad, {expected} by the formula");
        }
    }
}

#[test]
fn planes_a_hundredth_of_a_degree_apart_and_wedges_hold_still() {
    for _ in every_frame() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let lean = 0.01f64.to_radians();
        let world = World::new()
            .floor(30.0, 0.0)
            .quad(p(1.0, 0.0, -9.0), p(1.0, 3.0, -9.0), p(1.0, 3.0, 0.0), p(1.0, 0.0, 0.0))
            .quad(
                p(1.0, 0.0, 0.0),
                p(1.0, 3.0, 0.0),
                p(1.0 - 9.0 * lean.tan(), 3.0, 9.0),
                p(1.0 - 9.0 * lean.tan(), 0.0, 9.0),
            );
        for rate in [30.0, 60.0, 240.0] {
            let mut walk = Walk::new(world.clone(), Tuning::walker(), [0.5, 0.0, -4.0]);
            let heading = Vec3::new(0.5, 0.0, 1.0);
            walk.go(1.0 / rate, 1.5, Intent::toward(heading));
            let along = 4.5 * f64::from(heading.z / heading.length());
            assert!((walk.hero.velocity.length() - along).abs() < 1e-3, "{rate} Hz: {}", walk.hero.velocity);
        }
        // Pressed for a minute into a narrowing gap under a sloping roof: it stays put and never sinks in.
        let gap = World::new().floor(30.0, 0.0).quad(
            p(0.0, 2.4, -5.0),
            p(0.0, 2.4, 5.0),
            p(6.0, 0.9, 5.0),
            p(6.0, 0.9, -5.0),
        );
        let mut walk = Walk::new(gap, Tuning::walker(), [1.0, 0.0, 0.0]);
        walk.go(1.0 / 60.0, 3.0, Intent::toward(Vec3::X));
        let held = walk.hero.position;
        walk.go(1.0 / 60.0, 60.0, Intent::toward(Vec3::X));
        assert!((walk.hero.position - held).length() < 1e-4, "{held} to {}", walk.hero.position);
        assert!(walk.gap() > -1e-4, "{}", walk.gap());
        assert!(walk.events.iter().all(|e| !matches!(e.kind, newel::EventKind::TimeDropped { .. })));
        walk.go(1.0 / 60.0, 0.5, Intent::toward(Vec3::NEG_X));
        assert!(walk.hero.position.x < held.x - 0.5, "and comes out freely");
    }
}
