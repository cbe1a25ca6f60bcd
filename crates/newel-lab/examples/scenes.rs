//! Cost of crowds and of scenes that change: characters by the thousand, bodies added, moved and taken away.
//!
//! `cargo run --release -p newel-lab --example scenes`

use std::time::Instant;

use newel::glam::{DQuat, DVec3, Vec3};
use newel::{Character, Crowd, Intent, Member, Mesh, Patch, Scene, Solid, Tuning, When};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    crowds()?;
    door()?;
    scenes()?;
    Ok(())
}

/// Everyone in a square of their own size, in directions that change.
fn crowds() -> Result<(), Box<dyn std::error::Error>> {
    let tunings = [Tuning::walker()];
    for count in [100usize, 1_000, 10_000] {
        let side = (count as f64).sqrt().ceil();
        let half = side * 0.75 + 5.0;
        let level = Mesh::cuboid(DVec3::new(-half, -1.0, -half), DVec3::new(half, 0.0, half))?;
        let place = |i: usize| {
            DVec3::new((i as f64 % side - side / 2.0) * 1.5, 0.0, ((i as f64 / side).floor() - side / 2.0) * 1.5)
        };
        let all: Vec<Member> = (0..count)
            .map(|i| Ok(Member::new(Character::spawn(&level, &tunings[0], place(i))?)))
            .collect::<Result<_, newel::SpawnError>>()?;
        let ticks = (200_000 / count).clamp(20, 600) as u64;
        let mut hashes = Vec::new();
        let threads = std::thread::available_parallelism().map_or(1, usize::from);
        let mut times = Vec::new();
        for threads in [1, threads] {
            let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build()?;
            let (mut all, mut crowd) = (all.clone(), Crowd::new());
            let began = Instant::now();
            pool.install(|| {
                for number in 0..ticks {
                    for (i, one) in all.iter_mut().enumerate() {
                        let angle = (i as f32 * 2.4) + (number / 60) as f32 * 1.7;
                        one.intent = Intent::toward(Vec3::new(angle.cos(), 0.0, angle.sin()) * 0.7).guarded();
                    }
                    crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut all)?;
                }
                Ok::<(), newel::CrowdError>(())
            })?;
            times.push(began.elapsed().as_secs_f64() / ticks as f64);
            hashes.push(all.iter().fold(0u64, |sum, one| sum.rotate_left(7) ^ one.hash()));
        }
        println!(
            "{count:6} walking: {:8.3} ms a tick on one thread, {:.2} us each; {:8.3} ms on {threads}; bits {}",
            times[0] * 1e3,
            times[0] / count as f64 * 1e6,
            times[1] * 1e3,
            if hashes[0] == hashes[1] { "equal" } else { "DIFFER" }
        );
        assert_eq!(hashes[0], hashes[1]);
    }
    Ok(())
}

/// Three hundred who press at a door 1.2 m wide.
fn door() -> Result<(), Box<dyn std::error::Error>> {
    let tunings = [Tuning::walker()];
    let mut level = Scene::new().with(Mesh::cuboid(DVec3::new(-40.0, -1.0, -40.0), DVec3::new(40.0, 0.0, 40.0))?);
    for [from, to] in [[-40.0, -0.6], [0.6, 40.0]] {
        level = level.with(Mesh::cuboid(DVec3::new(0.0, 0.0, from), DVec3::new(0.3, 3.0, to))?);
    }
    let place = |i: usize| DVec3::new(-1.5 - (i / 20) as f64 * 0.7, 0.0, ((i % 20) as f64 - 9.5) * 0.7);
    let mut all: Vec<Member> = (0..300)
        .map(|i| Ok(Member::new(Character::spawn(&level, &tunings[0], place(i))?)))
        .collect::<Result<_, newel::SpawnError>>()?;
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build()?;
    let (mut crowd, mut times) = (Crowd::new(), Vec::new());
    for number in 0..1_200 {
        for one in &mut all {
            let through = one.character.position.x > -0.3;
            let way = DVec3::new(if through { 9.0 } else { 0.1 }, 0.0, 0.0) - one.character.position;
            one.intent = Intent::toward(way.with_y(0.0).normalize_or_zero().as_vec3());
        }
        let began = Instant::now();
        pool.install(|| crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut all))?;
        times.push(began.elapsed().as_secs_f64() * 1e6 / 300.0);
    }
    times.sort_by(f64::total_cmp);
    let through = all.iter().filter(|one| one.character.position.x > 0.5).count();
    println!(
        "   300 at a door: {:.1} us each in the median, {:.1} at most; {through} through in 20 s",
        times[600], times[1_199]
    );
    Ok(())
}

/// Crates all over a square, by the thousand.
fn scenes() -> Result<(), Box<dyn std::error::Error>> {
    for count in [100u64, 1_000, 10_000, 100_000] {
        let side = (count as f64).sqrt() * 4.0;
        let place = |i: u64| {
            let (a, b) = (i as f64 * 0.618_034, i as f64 * 0.754_878);
            DVec3::new((a.fract() - 0.5) * side, 0.5, (b.fract() - 0.5) * side)
        };
        let crate_of_fish = Solid::cuboid(DVec3::splat(-0.5), DVec3::splat(0.5))?;
        let mut scene = Scene::new();
        let each = |began: Instant| began.elapsed().as_secs_f64() * 1e6 / count as f64;
        let began = Instant::now();
        for i in 0..count {
            scene.add(i + 1, crate_of_fish.clone(), place(i), DQuat::IDENTITY)?;
        }
        let added = each(began);
        let began = Instant::now();
        for i in 0..count {
            scene.take(i + 1, place(i) + DVec3::X, DQuat::IDENTITY, 0..1)?;
        }
        let moved = each(began);
        let mut found = 0;
        let began = Instant::now();
        for i in 0..count {
            let at = place(i);
            found += Patch::of(&scene, When::tick(1, 1.0 / 60.0), at - 1.0, at + 1.0).facets().len();
        }
        let asked = each(began);
        let began = Instant::now();
        for i in 0..count {
            scene.remove(i + 1);
        }
        let removed = each(began);
        println!(
            "{count:6} bodies: {added:.2} us to add one, {moved:.2} to move, {removed:.2} to remove; {asked:.2} us to ask what is near, {:.1} facets",
            found as f64 / count as f64
        );
    }
    Ok(())
}
