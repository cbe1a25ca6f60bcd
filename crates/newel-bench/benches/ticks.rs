//! Ticks, and what a ray and a capsule cast of a general geometry crate cost at the same sites.
//!
//! `cargo bench -p newel-bench`. The ratios that are promised come from the `cost` program, which measures both by turns.

use std::hint::black_box;

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use newel::{Character, Intent, Modifiers, Workspace};
use newel_bench::{Doing, Land};

fn ticks(c: &mut Criterion) {
    let modifiers = Modifiers::default();
    for side in [23, 71, 256, 724] {
        for doing in Doing::ALL {
            let (land, tuning) = (Land::new(side, doing), doing.tuning());
            let sites: Vec<(Character, Intent)> = (0..2000).filter_map(|n| land.site(n, &tuning)).collect();
            let (tick, mut work) = (land.tick(&tuning, &modifiers), Workspace::new());
            let mut group = c.benchmark_group(doing.name());
            let mut site = sites.iter().cycle();
            let mut next = || site.next().expect("a site");
            group.bench_function(BenchmarkId::new("tick", land.triangles()), |b| {
                b.iter(|| {
                    let (mut hero, intent) = next().clone();
                    let _ = black_box(tick.step(&mut work, &mut hero, &intent, &[]));
                });
            });
            group.bench_function(BenchmarkId::new("ray", land.triangles()), |b| b.iter(|| land.ray(&next().0)));
            group.bench_function(BenchmarkId::new("capsule cast", land.triangles()), |b| {
                b.iter(|| land.capsule(&next().0));
            });
            group.finish();
        }
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(20).warm_up_time(std::time::Duration::from_millis(300))
        .measurement_time(std::time::Duration::from_millis(1200));
    targets = ticks
}
criterion_main!(benches);
