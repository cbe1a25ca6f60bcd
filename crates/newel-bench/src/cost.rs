//! Cost of a tick, in ray casts: ticks and 2 m down-rays of a general geometry crate in alternating batches at the
//! same sites, so that whatever else the machine does slows both.
//!
//! `cargo run --release -p newel-bench --bin cost`, with `chart FILE.png` to draw what was measured.

mod chart;

use std::hint::black_box;
use std::time::Instant;

use newel::glam::{DVec3, Vec3};
use newel::{Character, Intent, Modifiers, Tick, Tuning, Workspace};
use newel_bench::{Doing, Land, unit};

/// Sites visited, each once a pass, in one shuffled order.
const SITES: usize = 10_000;
/// Sites to a batch.
const BATCH: usize = 100;
/// Passes counted; one more goes before, to warm up.
const PASSES: usize = 4;
/// Cells a side that make a thousand, ten, a hundred and thirty-one thousand and a million triangles.
const SIDES: [usize; 4] = [23, 71, 256, 724];
/// Ticks of a walk across country, and to a batch of it.
const WALK: usize = 60_000;
const STRETCH: usize = 600;
/// Length of the walk whose instructions are counted, in seconds.
const WALKED: f64 = 20.0;

/// Medians of one measurement, nanoseconds.
pub(crate) struct Row {
    pub doing: Doing,
    pub triangles: usize,
    pub tick: f64,
    pub ray: f64,
    pub capsule: f64,
}

fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    match args.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["profile"] => profile("walking"),
        ["profile", what] => profile(what),
        ["walk", rate] => walk(rate, &rolling(), false),
        ["walk", rate, "mouse"] => walk(rate, &rolling(), true),
        ["walk", rate, "level"] => walk(rate, &Land::level(256), false),
        ["chart", file] => {
            let (rows, growth) = survey();
            if let Err(error) = chart::draw(file, &rows, &growth) {
                eprintln!("error: {error}");
                std::process::exit(2);
            }
        }
        _ => drop(survey()),
    }
}

fn survey() -> (Vec<Row>, Vec<(usize, f64)>) {
    println!("ticks of 1/60 s against 2 m down-rays and 0.5 m capsule casts of a general geometry crate,");
    println!("medians of {BATCH}-site batches in turn, {SITES} shuffled sites, {PASSES} passes\n");
    println!(
        "{:<18}{:>10}{:>10}{:>9}{:>11}{:>8}{:>10}{:>8}",
        "", "triangles", "tick ns", "ray ns", "capsule ns", "rays", "capsules", "facets"
    );
    let mut rows = Vec::new();
    for doing in Doing::ALL {
        for side in SIDES {
            rows.push(measure(&Land::new(side, doing)));
        }
    }
    println!("\na walk across country, from one random place to the next: medians of {STRETCH}-tick stretches\n");
    (rows, growth())
}

/// Nothing but ticks of one kind, for an instruction counter:
/// `valgrind --tool=callgrind target/release/cost profile walking` (or `idle`, `wall`, `step`, `crowd`, `swim`, `hover`, `slide`, `climb`).
fn profile(what: &str) {
    let doing = match what {
        "idle" => Doing::Idle,
        "wall" => Doing::AgainstWall,
        "step" => Doing::AgainstStep,
        "crowd" => Doing::Crowded,
        "swim" => Doing::Swimming,
        "hover" => Doing::Hovering,
        "slide" => Doing::Sliding,
        "climb" => Doing::Climbing,
        _ => Doing::Walking,
    };
    let (land, tuning, modifiers) = (Land::new(64, doing), doing.tuning(), Modifiers::default());
    let mut work = Workspace::new();
    let tick = land.tick(&tuning, &modifiers);
    for (hero, intent) in (0..100).filter_map(|n| land.site(n, &tuning)) {
        (0..200).for_each(|_| drop(black_box(tick.step(&mut work, &mut hero.clone(), &intent, &[]))));
    }
}

/// Rolling land of 131,072 triangles.
fn rolling() -> Land {
    Land::new(256, Doing::Walking)
}

/// A steady walk for an instruction counter: `valgrind --tool=callgrind --toggle-collect='newel::step::Tick::play*'
/// target/release/cost walk 60`, or any tick rate. The heading turns every 0.7 s; with `mouse` it also trembles from tick to tick.
/// With `level` the land is level.
fn walk(rate: &str, land: &Land, is_trembling: bool) {
    let Ok(rate) = rate.parse::<f64>() else { return eprintln!("error: {rate:?} is no tick rate in Hz, such as 60") };
    let (tuning, modifiers) = (Doing::Walking.tuning(), Modifiers::default());
    let Ok(mut hero) = Character::spawn(land.mesh(), &tuning, DVec3::new(64.0, 4.0, 64.0)) else { return };
    let mut work = Workspace::new();
    for number in 0..(WALKED * rate).round() as u64 {
        let (time, turns) = (number as f64 / rate, (number as f64 / rate / 0.7).floor());
        let tremble = if is_trembling { 0.05 * (time * 55.0).sin() } else { 0.0 };
        // It goes round and about near the middle.
        let angle = 2.3 * turns + (0.77 * turns).sin() + tremble;
        let intent = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
        let tick = Tick { number, terrain: land.mesh(), tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
        let _ = black_box(tick.step(&mut work, &mut hero, &intent, &[]));
    }
    println!("{WALKED} s of walking at {rate} Hz: divide the instructions by {}", WALKED * 60.0);
}

/// Nanoseconds that one call takes, of as many as there are sites in a batch.
fn time(batch: &[(Character, Intent)], mut each: impl FnMut(usize, &(Character, Intent))) -> f64 {
    let start = Instant::now();
    batch.iter().enumerate().for_each(|(i, site)| each(i, site));
    start.elapsed().as_secs_f64() * 1e9 / batch.len() as f64
}

fn measure(land: &Land) -> Row {
    let (tuning, modifiers) = (land.doing().tuning(), Modifiers::default());
    let sites: Vec<(Character, Intent)> = (0..SITES).filter_map(|n| land.site(n, &tuning)).collect();
    let tick = land.tick(&tuning, &modifiers);
    let mut work = Workspace::new();
    let (mut ticks, mut rays, mut capsules, mut facets) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
    for pass in 0..=PASSES {
        for batch in sites.chunks_exact(BATCH) {
            // Copies made before the clock starts: what is timed is the tick alone.
            let mut heroes: Vec<Character> = batch.iter().map(|s| s.0.clone()).collect();
            let tick_time = time(batch, |i, (_, intent)| {
                let _ = black_box(tick.step(&mut work, &mut heroes[i], intent, &[]));
            });
            let ray_time = time(batch, |_, (hero, _)| _ = black_box(land.ray(hero)));
            if pass > 0 {
                facets.push(work.patch().facets().len() as f64);
                ticks.push(tick_time);
                rays.push(ray_time);
            }
        }
    }
    // Apart from the others, or they would find their caches emptied.
    for batch in sites.chunks_exact(BATCH) {
        capsules.push(time(batch, |_, (hero, _)| _ = black_box(land.capsule(hero))));
    }
    let doing = land.doing();
    let row = Row {
        doing,
        triangles: land.triangles(),
        tick: median(&mut ticks),
        ray: median(&mut rays),
        capsule: median(&mut capsules),
    };
    println!(
        "{:<18}{:>10}{:>10.0}{:>9.0}{:>11.0}{:>8.2}{:>10.2}{:>8.0}",
        doing.name(),
        row.triangles,
        row.tick,
        row.ray,
        row.capsule,
        row.tick / row.ray,
        row.tick / row.capsule,
        median(&mut facets)
    );
    row
}

/// Cost of a tick of a walk across lands of all sizes, nanoseconds: stretches on each in turn.
fn growth() -> Vec<(usize, f64)> {
    let (tuning, modifiers) = (Tuning::walker(), Modifiers::default());
    let lands = SIDES.map(|side| Land::new(side, Doing::Walking));
    let mut walkers: Vec<_> = lands.iter().filter_map(|land| Some((land.site(0, &tuning)?.0, 0, Vec::new()))).collect();
    let mut work = Workspace::new();
    for _ in 0..WALK / STRETCH {
        for (land, (hero, goal, times)) in lands.iter().zip(&mut walkers) {
            let tick = land.tick(&tuning, &modifiers);
            let start = Instant::now();
            for _ in 0..STRETCH {
                let span = land.width() - 4.0;
                let to = DVec3::new(2.0 + unit(*goal, 7) * span, hero.position.y, 2.0 + unit(*goal, 8) * span);
                let way = to - hero.position;
                *goal += usize::from(way.length() < 0.5);
                let heading = Vec3::new(way.x as f32, 0.0, way.z as f32) * 1e3;
                let _ = black_box(tick.step(&mut work, hero, &Intent::toward(heading), &[]));
            }
            times.push(start.elapsed().as_secs_f64() * 1e9 / STRETCH as f64);
        }
    }
    let medians: Vec<(usize, f64)> =
        lands.iter().zip(&mut walkers).map(|(land, walker)| (land.triangles(), median(&mut walker.2))).collect();
    for (triangles, tick) in &medians {
        println!("{triangles:>26}{tick:>10.0} ns   {:.2} of the smallest", tick / medians[0].1);
    }
    medians
}

fn median(values: &mut [f64]) -> f64 {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied().unwrap_or(f64::NAN)
}
