//! What a tick costs, in ray casts: ticks and 2 m down-rays of a general geometry crate in alternating batches at the
//! same sites, so that whatever else the machine does slows both.
//!
//! `cargo run --release -p newel-bench --bin cost`

use std::hint::black_box;
use std::time::Instant;

use newel::glam::{DVec3, Vec3};
use newel::{Character, Intent, Mesh, Modifiers, Tick, Tuning, Workspace};
use parry3d::math::Vector;
use parry3d::query::{Ray, RayCast};
use parry3d::shape::TriMesh;

/// Sites visited, each once a pass, in one shuffled order.
const SITES: usize = 10_000;
/// Sites to a batch.
const BATCH: usize = 100;
/// Passes counted; one more goes before, to warm up.
const PASSES: usize = 4;

fn main() {
    if std::env::args().nth(1).as_deref() == Some("profile") {
        return profile(std::env::args().nth(2).as_deref().unwrap_or("walking"));
    }
    println!(
        "ticks of 1/60 s against 2 m down-rays, medians of {BATCH}-site batches, {SITES} sites, {PASSES} passes\n"
    );
    println!("{:<34}{:>10}{:>10}{:>9}{:>9}", "", "tick ns", "ray ns", "ratio", "facets");
    for side in [23, 256, 724] {
        let land = Land::new(side, 0.0);
        let triangles = side * side * 2;
        measure(&format!("walking, {triangles} triangles"), &land, Doing::Walking);
    }
    let land = Land::new(256, 0.0);
    measure("idle", &land, Doing::Idle);
    measure("falling", &land, Doing::Falling);
    measure("against a wall", &Land::new(256, 3.0), Doing::Pressing);
    measure("against a step", &Land::new(256, 0.25), Doing::Pressing);
}

/// What the characters do while they are measured.
#[derive(Clone, Copy, PartialEq)]
enum Doing {
    Walking,
    Idle,
    Falling,
    Pressing,
}

/// Rolling land of square cells of half a metre, `side` a side; with `rise`, terraces by turns low and that much higher,
/// seven cells wide, with upright walls between.
struct Land {
    side: usize,
    rise: f32,
    mesh: Mesh,
    foreign: TriMesh,
}

const CELL: f32 = 0.5;

impl Land {
    fn new(side: usize, rise: f32) -> Land {
        let wave = |x: f32, z: f32| 0.5 * (x * 0.31).sin() * (z * 0.23).cos() + 0.11 * (x * 1.7 + z).sin();
        let mut corners = Vec::new();
        for k in 0..=side {
            for i in 0..=side {
                // A wall is one column of cells all but upright.
                let off = if rise > 0.0 && i % 8 == 0 { -CELL + 1e-3 } else { 0.0 };
                let lift = if i / 8 % 2 == 1 { rise } else { 0.0 };
                let (x, z) = (i as f32 * CELL + off, k as f32 * CELL);
                let base = if rise > 0.0 { 0.02 * (z * 0.7).sin() } else { wave(x, z) };
                corners.push([x, base + lift, z]);
            }
        }
        let mut triangles = Vec::new();
        for k in 0..side {
            for i in 0..side {
                let a = (k * (side + 1) + i) as u32;
                let (b, c, d) = (a + side as u32 + 1, a + side as u32 + 2, a + 1);
                triangles.extend([[a, b, c], [a, c, d]]);
            }
        }
        let mesh = Mesh::new(&corners, triangles.as_flattened()).expect("a mesh");
        let points = corners.iter().map(|c| Vector::new(c[0], c[1], c[2])).collect();
        let foreign = TriMesh::new(points, triangles).expect("a mesh");
        Land { side, rise, mesh, foreign }
    }

    /// A character at a random site, doing what is to be measured.
    fn site(&self, n: usize, doing: Doing, tuning: &Tuning) -> Option<(Character, Intent)> {
        let unit = |salt: u64| {
            let mut h = (n as u64 + 1).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ salt.wrapping_mul(0xD6E8_FEB8_6659_FD93);
            h = (h ^ (h >> 31)).wrapping_mul(0x94D0_49BB_1331_11EB);
            ((h ^ (h >> 29)) >> 11) as f64 / (1u64 << 53) as f64
        };
        let span = f64::from(CELL) * self.side as f64 - 4.0;
        let mut at = DVec3::new(2.0 + unit(1) * span, 4.0, 2.0 + unit(2) * span);
        let mut angle = unit(3) * std::f64::consts::TAU;
        if self.rise > 0.0 {
            // A little before the next wall up, heading into it at up to 60 degrees.
            at.x = (at.x / 8.0).floor() * 8.0 + 3.5 - 0.35;
            angle = (unit(3) - 0.5) * 2.0;
        }
        let mut hero = Character::spawn(&self.mesh, tuning, at).ok()?;
        let mut work = Workspace::new();
        let heading = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
        let mut step = |hero: &mut Character, intent: &Intent, ticks: usize| {
            let modifiers = Modifiers::default();
            let tick = Tick { number: 0, terrain: &self.mesh, tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
            (0..ticks).for_each(|_| drop(tick.step(&mut work, hero, intent, &[])));
        };
        if doing == Doing::Falling {
            hero.velocity = DVec3::new(angle.cos(), -3.0, angle.sin());
            hero.position.y -= 1.5;
            return Some((hero, heading));
        }
        step(&mut hero, &Intent::default(), 90);
        match doing {
            Doing::Idle => Some((hero, Intent::default())),
            Doing::Pressing => {
                step(&mut hero, &heading, 6);
                Some((hero, heading))
            }
            _ => {
                step(&mut hero, &heading, 12);
                Some((hero, heading))
            }
        }
    }
}

/// Nothing but ticks of one kind, for an instruction counter:
/// `valgrind --tool=callgrind target/release/cost profile walking` (or `idle`, `wall`, `step`).
fn profile(what: &str) {
    let (rise, doing) = match what {
        "idle" => (0.0, Doing::Idle),
        "wall" => (3.0, Doing::Pressing),
        "step" => (0.25, Doing::Pressing),
        _ => (0.0, Doing::Walking),
    };
    let (land, tuning, modifiers) = (Land::new(64, rise), Tuning::walker(), Modifiers::default());
    let mut work = Workspace::new();
    let tick = Tick { number: 0, terrain: &land.mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
    for (hero, intent) in (0..100).filter_map(|n| land.site(n, doing, &tuning)) {
        (0..200).for_each(|_| drop(black_box(tick.step(&mut work, &mut hero.clone(), &intent, &[]))));
    }
}

fn measure(name: &str, land: &Land, doing: Doing) {
    let tuning = Tuning::walker();
    let sites: Vec<(Character, Intent)> = (0..SITES).filter_map(|n| land.site(n, doing, &tuning)).collect();
    let modifiers = Modifiers::default();
    let tick = Tick { number: 0, terrain: &land.mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
    let mut work = Workspace::new();
    let (mut ticks, mut rays, mut facets) = (Vec::new(), Vec::new(), Vec::new());
    for pass in 0..=PASSES {
        for batch in sites.chunks_exact(BATCH) {
            // Copies made before the clock starts: what is timed is the tick alone.
            let mut heroes: Vec<Character> = batch.iter().map(|s| s.0).collect();
            let start = Instant::now();
            for (hero, (_, intent)) in heroes.iter_mut().zip(batch) {
                let _ = black_box(tick.step(&mut work, hero, intent, &[]));
            }
            let tick_time = start.elapsed().as_secs_f64() * 1e9 / BATCH as f64;
            facets.push(work.patch().facets().len() as f64);
            let start = Instant::now();
            for (hero, _) in batch {
                let from = (hero.position + DVec3::Y).as_vec3();
                let ray = Ray::new(Vector::new(from.x, from.y, from.z), Vector::new(0.0, -1.0, 0.0));
                black_box(land.foreign.cast_local_ray(&ray, 2.0, true));
            }
            let ray_time = start.elapsed().as_secs_f64() * 1e9 / BATCH as f64;
            if pass > 0 {
                ticks.push(tick_time);
                rays.push(ray_time);
            }
        }
    }
    let (tick, ray) = (median(&mut ticks), median(&mut rays));
    println!("{name:<34}{tick:>10.0}{ray:>10.0}{:>9.2}{:>9.0}", tick / ray, median(&mut facets));
}

fn median(values: &mut [f64]) -> f64 {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied().unwrap_or(f64::NAN)
}
