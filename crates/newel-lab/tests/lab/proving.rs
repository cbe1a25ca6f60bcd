//! A fixed sample of the proving grounds. Present failures are a ceiling here, so that they can only fall; `newel prove` measures the whole.

use newel_lab::audit::FindingKind;
use newel_lab::proving::{Cut, Land, LandKind, MovingWorld, Proof, ProofSize, prove};
use newel_lab::read_tuning;

/// Findings in the sample at 15, 60 and 333 Hz that are known. Floats and overlaps have no ceiling: there are none.
const FINDINGS: [(&str, [usize; 3]); 4] =
    [("flurry", [8, 8, 8]), ("lost ground", [5, 5, 7]), ("no progress", [5, 6, 6]), ("pop", [1, 1, 1])];
/// Walks with other events than at 1000 Hz, in the order of `Ticks::COMPARED`. None is anywhere else by a bit.
const OTHER_EVENTS: [usize; 7] = [0, 0, 0, 0, 0, 0, 0];
/// Cuts that move the end by over 0.01 mm, by over 1 mm, and change events; and the most they move it, in metres.
const CUTS: [usize; 3] = [62, 1, 1];
const FARTHEST_CUT: f64 = 0.0025;
/// Shifted walks, and walks in a world turned askew, that end over 5 mm apart, and those with other events.
const SHIFTED: [usize; 2] = [32, 24];
const TURNED: [usize; 2] = [14, 10];
/// Findings among moving bodies at 30, 60 and 144 Hz. Overlaps, floats, drifts and unexplained speeds have no ceiling.
const MOVING: [(&str, [usize; 3]); 3] =
    [("false step", [1, 0, 0]), ("lost ground", [1, 0, 0]), ("too much work", [2488, 5032, 3976])];
/// The most closest-point queries of one tick among moving bodies.
const MOST_QUERIES: [u32; 3] = [3811, 6508, 2346];

#[test]
fn the_sample_is_no_worse_than_its_ceilings() {
    let proof = prove(ProofSize { first: 0, walks: 50, cuts: 5000, worlds: 1 }, None, |_| ());
    let worse = worse_than_ceilings(&proof);
    println!("{}", serde_json::to_string_pretty(&Proof { examples: Vec::new(), ..proof.clone() }).unwrap());
    assert!(worse.is_empty(), "{}\n{}", worse.join("\n"), proof.examples.join("\n"));
    a_kept_cut_happens_again(&proof.cuts.worst[0]);
}

fn worse_than_ceilings(proof: &Proof) -> Vec<String> {
    let mut worse = Vec::new();
    let mut hold = |what: String, found: f64, ceiling: f64| {
        if found > ceiling {
            worse.push(format!("{what}: {found}, at most {ceiling}"));
        }
    };
    let ceiling = |table: &[(&str, [usize; 3])], name: &str, column: usize| {
        table.iter().find(|row| row.0 == name).map_or(0, |row| row.1[column]) as f64
    };
    for (name, counts) in &proof.findings {
        for (column, count) in counts.iter().enumerate() {
            hold(format!("{name}, column {column}"), *count as f64, ceiling(&FINDINGS, name, column));
        }
    }
    let walks = proof.walks;
    assert!(walks > 40, "{walks} walks");
    for (rate, events) in proof.rates.iter().zip(OTHER_EVENTS) {
        hold(format!("{} apart", rate.ticks), rate.apart as f64, 0.0);
        hold(format!("{} in other bits", rate.ticks), (walks - rate.same_bits) as f64, 0.0);
        hold(format!("{} events", rate.ticks), rate.events as f64, events as f64);
    }
    let cuts = &proof.cuts;
    assert!(cuts.count > 4000, "{} cuts", cuts.count);
    for (what, (found, most)) in
        ["moved", "moved far", "events"].iter().zip([cuts.moved, cuts.moved_far, cuts.events].into_iter().zip(CUTS))
    {
        hold(format!("cuts {what}"), found as f64, most as f64);
    }
    hold("farthest cut".to_owned(), cuts.apart[3], FARTHEST_CUT);
    for (what, twice, most) in [("shifted", &proof.shifted, SHIFTED), ("turned", &proof.turned, TURNED)] {
        hold(format!("{what} apart"), twice.apart as f64, most[0] as f64);
        hold(format!("{what} events"), twice.events as f64, most[1] as f64);
    }
    for (column, figures) in proof.moving.iter().enumerate() {
        for (name, count) in &figures.findings {
            hold(format!("moving {name}, {} Hz", figures.rate), *count as f64, ceiling(&MOVING, name, column));
        }
        hold(format!("queries, {} Hz", figures.rate), f64::from(figures.queries.1), f64::from(MOST_QUERIES[column]));
        let dropped = figures.troubles.get("time_dropped").copied().unwrap_or(0);
        hold(format!("time dropped, {} Hz", figures.rate), dropped as f64, 0.0);
    }
    worse
}

/// The reproduction that is kept of a cut shows at least half of its difference, from its file alone.
fn a_kept_cut_happens_again(cut: &Cut) {
    let kept: Cut = serde_json::from_slice(&serde_json::to_vec(cut).unwrap()).unwrap();
    let (apart, _) = kept.again().expect("known land and a tuning that is possible");
    assert!(kept.triangles.len() < 20 && apart >= 0.49 * cut.apart, "{apart} of {} m", cut.apart);
}

#[test]
fn land_is_the_same_for_the_same_seed_and_crosses_what_is_walkable() {
    for kind in LandKind::ALL {
        let (one, same, other) = (Land::generate(kind, 3), Land::generate(kind, 3), Land::generate(kind, 4));
        assert_eq!(one.triangles, same.triangles, "{kind:?}");
        assert_ne!(one.triangles, other.triangles, "{kind:?}");
        let steepness = |[a, b, c]: &newel_lab::proving::Triangle| {
            let normal = (*b - *a).cross(*c - *a);
            let up = if kind.is_closed() { *a / a.length() } else { newel::glam::DVec3::Y };
            (normal.dot(up).abs() / normal.length()).acos().to_degrees()
        };
        let steep = (0..8)
            .flat_map(|seed| Land::generate(kind, seed).triangles.iter().map(steepness).collect::<Vec<_>>())
            .fold([0usize; 3], |mut counts, degrees| {
                counts[if degrees < 35.0 {
                    0
                } else if degrees < 50.0 {
                    1
                } else {
                    2
                }] += 1;
                counts
            });
        assert!(
            steep.iter().all(|count| *count > 100),
            "{kind:?}: {steep:?} faces under 35, to 50 and over 50 degrees"
        );
    }
}

/// Moving worlds in which a buried character, and one at the seam of a wall, dropped time, and a guarded one was carried into the floor.
#[test]
fn worlds_that_dropped_time_or_ended_in_a_body_do_so_no_more() {
    let keeper = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tunings/keeper.toml");
    let keeper = read_tuning(keeper.as_ref()).expect("a tuning");
    for (world, rate, tuning) in [(6, 60.0, None), (8, 30.0, Some(&keeper)), (0, 30.0, Some(&keeper))] {
        let played = MovingWorld::generate(world).play(world, rate, 10.0, tuning, |_, _, _, _| ());
        assert_eq!(played.troubles.get("time_dropped"), None, "world {world}");
        let deep = played.findings.iter().find(|(_, found)| matches!(found.kind, FindingKind::Overlap { .. }));
        assert!(deep.is_none(), "world {world}: {deep:?}");
    }
}
