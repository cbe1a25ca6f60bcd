//! scratch
use newel_lab::audit::Surface;
use newel_lab::proving::*;
use std::collections::BTreeMap;
fn main() {
    let a: Vec<String> = std::env::args().collect();
    if a[1] == "trace" {
        trace(a[2].parse().unwrap(), a[3].parse().unwrap(), a[4].parse().unwrap());
        return;
    }
    if a[1] == "cuts" {
        cuts(a[2].parse().unwrap(), a[3].parse().unwrap(), a[4].parse().unwrap());
        return;
    }
    if a[1] == "rates" {
        rates(a[2].parse().unwrap(), a[3].parse().unwrap());
        return;
    }
    if a[1] == "moving" {
        moving(a[2].parse().unwrap(), a[3].parse().unwrap(), a.get(4).map_or("", |v| v));
        return;
    }
    if a[1] == "stuck" {
        stuck(&a[2]);
        return;
    }
    if a[1] == "mt" { movetrace(a[2].parse().unwrap(), a[3].parse().unwrap(), a[4].parse().unwrap(), a[5].parse().unwrap()); return; }
    if a[1] == "cut" {
        cut(&a[2]);
        return;
    }
    let (first, count): (u64, u64) = (a[1].parse().unwrap(), a[2].parse().unwrap());
    let rate: f64 = a[3].parse().unwrap();
    let verbose = a.len() > 4;
    let lands: Vec<u64> = (first / WALKS_PER_LAND..(first + count) / WALKS_PER_LAND).collect();
    use rayon::prelude::*;
    let all: Vec<(u64, &'static str, &'static str, PlayerKind, Walked)> = lands
        .par_iter()
        .flat_map_iter(|l| {
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
        })
        .collect();
    let mut t: BTreeMap<(&str, &str), usize> = BTreeMap::new();
    for (n, p, l, k, w) in &all {
        for f in &w.findings {
            *t.entry((f.kind.name(), l)).or_default() += 1;
            if verbose && a[4] == f.kind.name().replace(' ', "_") {
                println!("{n} {p} {l} {k:?}: {f}");
            }
        }
    }
    println!("{} walks", all.len());
    let mut k: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    for ((f, l), c) in t {
        k.entry(f).or_default().push(format!("{l} {c}"));
    }
    for (f, v) in k {
        println!("{f}: {}", v.join(", "));
    }
}
fn trace(number: u64, rate: f64, at: f64) {
    struct S;
    impl newel::Sink for S {
        fn hear(&mut self, n: newel::Note) {
            compact(&n);
        }
    }
    let mut land = land_of(number);
    let w = Walk::new(&land, number, 30, None).unwrap();
    let tuning = w.tuning;
    w.play(&mut land, Ticks::Rate(rate), None, |s| {
        if seconds(s.span.0) <= at && seconds(s.span.1) > at {
            let mut hero = *s.hero;
            let mut work = newel::Workspace::new();
            let m = newel::Modifiers::default();
            println!("{:?}", hero.state);
            let tick = newel::Tick {
                number: 0,
                terrain: s.terrain,
                tuning: &tuning,
                modifiers: &m,
                dt: seconds(s.span.1 - s.span.0),
            };
            let o = tick.explain(&mut work, &mut hero, &s.intent, &[], &mut S).unwrap();
            for e in o.events {
                println!("EVENT {:.6} {:?} {:.5}", e.time, e.kind, e.place);
            }
            println!("{:?}", hero.state);
        }
    });
}

fn cuts(first: u64, count: u64, per: u64) {
    use rayon::prelude::*;
    let lands: Vec<u64> = (first / WALKS_PER_LAND..(first + count) / WALKS_PER_LAND).collect();
    let mut all: Vec<Cut> = lands
        .par_iter()
        .flat_map_iter(|l| {
            let mut land = land_of(l * WALKS_PER_LAND);
            let mut out = vec![];
            for n in l * WALKS_PER_LAND..(l + 1) * WALKS_PER_LAND {
                let mut rng = fastrand::Rng::with_seed(n);
                if let Some(w) = Walk::new(&land, n, 30, None) {
                    let rate = [60.0, 37.0, 144.0][(n % 3) as usize];
                    let mut at = vec![];
                    w.play(&mut land, Ticks::Rate(rate), None, |s| {
                        if rng.f64() < per as f64 / (30.0 * rate) {
                            at.push((s.span, s.hero.state))
                        }
                    });
                    for (span, state) in at {
                        out.extend(Cut::of(&w, &mut land, (span.0, span.1 - span.0), state, &mut rng));
                    }
                }
            }
            out
        })
        .collect();
    let n = all.len();
    all.sort_by(|a, b| b.apart.total_cmp(&a.apart));
    let at = |p: f64| all[((n - 1) as f64 * (1.0 - p)) as usize].apart;
    println!(
        "{n} cuts: median {:.1e} p99 {:.1e} p99.9 {:.1e} max {:.4}; over 1e-5 {}, over 1 mm {}, events {}",
        at(0.5),
        at(0.99),
        at(0.999),
        at(1.0),
        all.iter().filter(|c| c.apart > 1e-5).count(),
        all.iter().filter(|c| c.apart > 1e-3).count(),
        all.iter().filter(|c| c.events.is_some()).count()
    );
    let mut by: BTreeMap<String, (usize, f64)> = BTreeMap::new();
    for c in all.iter().filter(|c| c.differs()) {
        let e = by
            .entry(format!("{} {:?} {:?} {:?}", c.land, c.state.mode, c.kind, c.events.as_ref().map(|_| "events")))
            .or_default();
        e.0 += 1;
        e.1 = e.1.max(c.apart);
    }
    for (k, v) in by {
        println!("  {k}: {} worst {:.5}", v.0, v.1);
    }
    let _ = std::fs::create_dir_all("/tmp/cuts");
    for (i, c) in all.iter().filter(|c| c.differs()).take(60).enumerate() {
        let land = land_of(c.walk);
        let s = c.smallest(&land);
        println!(
            "{i} walk {} {} {} {:.4}s {:?} {:?}/{:?}: {:.5} m, {} triangles, events {:?}",
            c.walk,
            c.land,
            c.preset,
            seconds(c.from),
            c.kind,
            c.state.mode,
            c.state.phase,
            c.apart,
            s.triangles.len(),
            c.events
        );
        std::fs::write(format!("/tmp/cuts/{i}.json"), serde_json::to_string(&s).unwrap()).unwrap();
    }
}
fn cut(file: &str) {
    let c: Cut = serde_json::from_str(&std::fs::read_to_string(file).unwrap()).unwrap();
    println!("{:?} {:?}", c.again(), c.state);
    struct S;
    impl newel::Sink for S {
        fn hear(&mut self, n: newel::Note) {
            println!("  {:.6} {:.5} {:?}", n.time, n.place, n.seen);
        }
    }
    let land = Land::generate(LandKind::named(&c.land).unwrap(), c.seed);
    let mut land = if c.triangles.is_empty() { land } else { land.with_only(&c.triangles) };
    let tuning = newel::Tuning::preset(&c.preset).unwrap();
    let m = newel::Modifiers::default();
    let runs: Vec<Vec<(i64, i64, newel::Intent)>> = match c.kind {
        CutKind::TwoTicks => {
            vec![vec![(0, c.length, c.intents[0])], vec![(0, c.part, c.intents[1]), (c.part, c.length, c.intents[2])]]
        }
        CutKind::SameHeading => vec![
            vec![(0, c.length, c.intents[0])],
            vec![(
                0,
                c.length,
                c.intents[0]
                    .also(newel::Timed { at: seconds(c.part), change: newel::Change::Heading(c.intents[2].heading) })
                    .unwrap(),
            )],
        ],
    };
    for r in runs {
        println!("=== RUN");
        let mut hero = newel::Character { state: c.state, custom: () };
        for (f, t, i) in r {
            println!("--- tick {:.6}..{:.6}", seconds(f), seconds(t));
            land.scene.time = seconds(c.from + f);
            let mut work = newel::Workspace::new();
            let tick =
                newel::Tick { number: 0, terrain: &land.scene, tuning: &tuning, modifiers: &m, dt: seconds(t - f) };
            let o = tick.explain(&mut work, &mut hero, &i, &[], &mut S).unwrap();
            for e in o.events {
                println!("EVENT {:.6} {:?} {:.5}", e.time, e.kind, e.place);
            }
            println!("END {:.6} {:.6} {:?}", hero.position, hero.velocity, hero.mode);
        }
    }
}

fn rates(first: u64, count: u64) {
    use rayon::prelude::*;
    let lands: Vec<u64> = (first / WALKS_PER_LAND..(first + count) / WALKS_PER_LAND).collect();
    let all: Vec<(u64, &'static str, &'static str, PlayerKind, Vec<RateResult>)> = lands
        .par_iter()
        .flat_map_iter(|l| {
            let mut land = land_of(l * WALKS_PER_LAND);
            let mut out = vec![];
            for n in l * WALKS_PER_LAND..(l + 1) * WALKS_PER_LAND {
                if let Some(w) = Walk::new(&land, n, 30, None) {
                    let r = compare_rates(&w, &mut land, None);
                    out.push((n, land.kind.name(), w.preset, w.kind, r));
                }
            }
            out
        })
        .collect();
    for i in 1..8 {
        let mut by: BTreeMap<&str, (usize, usize)> = BTreeMap::new();
        for (_, l, _, _, r) in &all {
            let e = by.entry(l).or_default();
            e.1 += 1;
            if r[i].apart > APART {
                e.0 += 1;
            }
        }
        let n = all.iter().filter(|a| a.4[i].apart > APART).count();
        let ev = all.iter().filter(|a| a.4[i].events.is_some()).count();
        println!(
            "{}: {n} of {} over 5 mm, events differ in {ev}; {:?}",
            all[0].4[i].ticks,
            all.len(),
            by.iter().map(|(k, v)| format!("{k} {}/{}", v.0, v.1)).collect::<Vec<_>>()
        );
    }
    let mut by: BTreeMap<String, (usize, usize)> = BTreeMap::new();
    for (_, _, _, k, r) in &all {
        let e = by.entry(format!("{k:?}")).or_default();
        e.1 += 1;
        if r[3].apart > APART {
            e.0 += 1;
        }
    }
    println!("60 Hz by player {by:?}");
}

fn moving(worlds: u64, secs: f64, verbose: &str) {
    use rayon::prelude::*;
    let jobs: Vec<(u64, f64)> = (0..worlds).flat_map(|w| [30.0, 60.0, 144.0].map(|r| (w, r))).collect();
    let t = std::time::Instant::now();
    let all: Vec<_> = jobs.par_iter().map(|(w, r)| (*w, *r, MovingWorld::generate(*w).play(*w, *r, secs, |_, _, _, _| ()))).collect();
    for r in [30.0, 60.0, 144.0] {
        let mut k: BTreeMap<&str, usize> = BTreeMap::new();
        let mut tr: BTreeMap<&str, u64> = BTreeMap::new();
        let (mut ticks, mut q, mut mq) = (0, 0, 0);
        for (w, _, m) in all.iter().filter(|a| a.1 == r) {
            ticks += m.ticks;
            q += m.queries;
            mq = mq.max(m.most_queries);
            for (i, f) in &m.findings {
                *k.entry(f.kind.name()).or_default() += 1;
                if f.kind.name().replace(' ', "_") == verbose {
                    println!("  world {w} {r} Hz char {i}: {f}");
                }
            }
            for (n, c) in &m.troubles {
                *tr.entry(n).or_default() += c;
            }
        }
        println!("{r} Hz: {ticks} ticks, {:.1} queries each, most {mq}; {k:?}; {tr:?}", q as f64 / ticks as f64);
    }
    println!("{:.1} us a tick", t.elapsed().as_secs_f64() * 2e6 / all.iter().map(|a| a.2.ticks as f64).sum::<f64>());
}

fn stuck(preset: &str) {
    let text = std::fs::read_to_string("/tmp/stuck.txt").unwrap();
    let mut lines = text.lines();
    let head: Vec<f64> = lines.next().unwrap().split(' ').take(7).map(|w| w.parse().unwrap()).collect();
    let mut v = vec![];
    for l in lines {
        let c: Vec<f64> = l.split_whitespace().map(|w| w.parse().unwrap()).collect();
        for k in c.chunks(3) {
            v.push([k[0], k[1], k[2]]);
        }
    }
    let mesh = newel::Mesh::new(&v, &(0..v.len() as u32).collect::<Vec<_>>()).unwrap();
    let tuning = newel::Tuning::preset(preset).unwrap();
    let mut hero = newel::Character::spawn(&mesh, &tuning, [head[1], head[2], head[3]]).unwrap();
    let place = newel::glam::DVec3::new(head[4], head[5], head[6]);
    struct S(bool);
    impl newel::Sink for S {
        fn hear(&mut self, n: newel::Note) {
            if self.0 {
                println!("  {:.6} {:.5} {:?}", n.time, n.place, n.seen);
            }
        }
    }
    for number in 0..(head[0] * 2.0) as u64 {
        let m = newel::Modifiers::default();
        let tick = newel::Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &m, dt: 1.0 / head[0] };
        let i = newel::Intent::new(newel::Heading::To { place, speed: 1.0 });
        let mut work = newel::Workspace::new();
        let show = number > (head[0] * 2.0) as u64 - 26;
        let o = tick.explain(&mut work, &mut hero, &i, &[], &mut S(show)).unwrap();
        if show {
            for e in o.events {
                println!("EVENT {:.6} {:?} {:.5}", e.time, e.kind, e.place);
            }
            println!(
                "END {:.6} {:.6} {:.6} {:?} stride {}",
                hero.clock, hero.position, hero.velocity, hero.mode, hero.stride
            );
        }
    }
}

fn compact(n: &newel::Note) {
    use newel::Seen;
    let c = |c: &newel::SeenContact| {
        format!("#{} p {:.4} n {:.3} f {:.3}{}", c.id, c.point, c.normal, c.face, if c.edge { " E" } else { "" })
    };
    let w = match &n.seen {
        Seen::Piece { mode, velocity, ground, span } => format!(
            "PIECE {mode:?} v {velocity:.3} on {:?} {:.4} n {:.3} span {span:.5}",
            ground.support, ground.point, ground.normal
        ),
        Seen::Step { met, height, result } => format!("STEP {} h {height:.4} {result:?}", c(met)),
        Seen::Moved { used, of, stopped, .. } => {
            format!("moved {used:.6} of {of:.6} {}", stopped.as_ref().map_or("".into(), c))
        }
        Seen::Probed { way, part, stopped } => {
            format!("probe {way:.4} {part:.4} {}", stopped.as_ref().map_or("".into(), c))
        }
        Seen::Judged { contacts, ground } => format!(
            "judged {:?} {:.4} n {:.3} of {}",
            ground.support,
            ground.point,
            ground.normal,
            contacts.iter().map(|(k, s)| format!("[{} {s:?}]", c(k))).collect::<String>()
        ),
        Seen::Pressed { planes, .. } => format!("pressed {:.2?}", planes.iter().map(|p| p.0).collect::<Vec<_>>()),
        _ => return,
    };
    println!("  {:.6} {:.4} {w}", n.time, n.place);
}

fn movetrace(world: u64, rate: f64, who: usize, at: f64) {
    struct S;
    impl newel::Sink for S { fn hear(&mut self, n: newel::Note) { compact(&n); } }
    MovingWorld::generate(world).play(world, rate, at + 0.1, |i, tick, hero, intent| {
        if i == who && (hero.clock + tick.dt - at).abs() < 0.6 * tick.dt {
            let mut hero = *hero;
            let mut work = newel::Workspace::new();
            println!("TICK {} at {:.4} {:?} v {:.3} intent {:?} guard {} pressed {:?}", tick.number, hero.position, hero.mode, hero.velocity, intent.heading, intent.guard, hero.pressed);
            let o = tick.explain(&mut work, &mut hero, intent, &[], &mut S).unwrap();
            for e in o.events { println!("EVENT {:.6} {:?} {:.5}", e.time, e.kind, e.place); }
            println!("END {:.4} {:.3} {:?}", hero.position, hero.velocity, hero.mode);
        }
    });
}
