//! scratch
use newel_lab::audit::Surface;
use newel_lab::proving::*;
use std::collections::BTreeMap;
fn main() {
    let a: Vec<String> = std::env::args().collect();
    let (first, count): (u64, u64) = (a[1].parse().unwrap(), a[2].parse().unwrap());
    let rate: f64 = a[3].parse().unwrap();
    let verbose = a.len() > 4;
    let lands: Vec<u64> = (first / WALKS_PER_LAND..(first + count) / WALKS_PER_LAND).collect();
    use rayon::prelude::*;
    let all: Vec<(u64, &'static str, &'static str, PlayerKind, Walked)> = lands.par_iter().flat_map_iter(|l| {
        let mut land = land_of(l * WALKS_PER_LAND);
        let surface = Surface::of(&land.scene);
        let mut out = vec![];
        for n in l * WALKS_PER_LAND..(l + 1) * WALKS_PER_LAND {
            if let Some(w) = Walk::new(&land, n, 30, None) {
                let r = w.play(&mut land, Ticks::Rate(rate), Some(&surface), |_| ());
                out.push((n, w.preset, land.kind.name(), w.kind, r));
            }
        }
        out
    }).collect();
    let mut t: BTreeMap<(&str, &str), usize> = BTreeMap::new();
    for (n, p, l, k, w) in &all {
        for f in &w.findings {
            *t.entry((f.kind.name(), l)).or_default() += 1;
            if verbose && a[4] == f.kind.name().replace(' ', "_") { println!("{n} {p} {l} {k:?}: {f}"); }
        }
    }
    println!("{} walks", all.len());
    let mut k: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    for ((f, l), c) in t { k.entry(f).or_default().push(format!("{l} {c}")); }
    for (f, v) in k { println!("{f}: {}", v.join(", ")); }
}
