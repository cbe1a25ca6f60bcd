//! Once over all of Gull Rock, and the drill yard, by everything there is: the same at every tick rate.

use std::collections::BTreeSet;
use std::path::Path;

use newel::{EventKind, Mode, Seen, Stance};
use newel_lab::{Course, EVENT_NAMES, Trace, event_name, explain, run};

fn course(name: &str, rate: f64) -> Course {
    let courses = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/courses");
    Course { rate, ..Course::load(Path::new(courses).join(name)).expect("the course") }
}

fn played(name: &str, rate: f64) -> Trace {
    run(&course(name, rate), |_| ()).expect("a run")
}

/// Events but footsteps, with their times.
fn told(trace: &Trace) -> Vec<(String, f64)> {
    let events = trace.events.iter().filter(|e| !matches!(e.kind, EventKind::Footstep { .. }));
    events.map(|e| (event_name(&e.kind).to_owned(), e.time)).collect()
}

fn is_the_same_at_six_rates(name: &str) {
    let fine = played(name, 1000.0);
    let names = |trace: &Trace| told(trace).into_iter().map(|(name, _)| name).collect::<Vec<_>>();
    let end = |trace: &Trace| trace.rows[trace.rows.len() - 1].position;
    for rate in [15.0, 30.0, 60.0, 144.0, 240.0] {
        let trace = played(name, rate);
        assert_eq!(names(&trace), names(&fine), "{rate} Hz");
        // Drivers are asked once a tick, and what gravity does where it changes is looked at on the fixed grid.
        let late = told(&trace).iter().zip(told(&fine)).map(|(a, b)| (a.1 - b.1).abs()).fold(0.0, f64::max);
        println!("{name} at {rate} Hz: {} events, moments within {:.1} ms", names(&trace).len(), late * 1e3);
        assert!(late < 1.0 / rate + 2.0 / 120.0, "{rate} Hz: {late}");
        assert!((end(&trace) - end(&fine)).length() < 1e-4, "{rate} Hz: {}", end(&trace));
    }
}

#[test]
fn the_rounds_are_the_same_at_six_rates() {
    is_the_same_at_six_rates("rounds.toml");
}

#[test]
fn the_drill_is_the_same_at_six_rates() {
    is_the_same_at_six_rates("drill.toml");
}

#[test]
fn the_rounds_lead_through_every_mode_and_stance_and_all_but_a_few_events() {
    let trace = played("rounds.toml", 60.0);
    let modes: Vec<Mode> = Mode::ALL.into_iter().filter(|m| trace.rows.iter().all(|r| r.mode != *m)).collect();
    assert_eq!(modes, [Mode::Custom], "what a game writes itself");
    for stance in [Stance::Stand, Stance::Crouch, Stance::Prone] {
        assert!(trace.rows.iter().any(|r| r.stance == stance), "{stance:?}");
    }
    let told: BTreeSet<&str> = trace.events.iter().map(|e| event_name(&e.kind)).collect();
    let missing: Vec<&str> = EVENT_NAMES.into_iter().filter(|name| !told.contains(name)).collect();
    let left = [
        "buffered",
        "custom_began",
        "custom_ended",
        "custom_told",
        "nudged",
        "grid_step",
        "pushed_out",
        "crushed",
        "stuck",
        "time_dropped",
    ];
    assert_eq!(missing, left, "a game's own mode, what has gone wrong, and what has its own tests");
}

/// Where ticks end between moments at which motion is decided, a tick still tells of itself and of nothing else, and once.
#[test]
fn a_tick_explains_what_is_in_it_at_any_rate() {
    for rate in [60.0, 144.0, 333.0] {
        let course = course("gull-rock.toml", rate);
        for tick in (rate as u64)..(rate as u64 + 8) {
            let told = explain(&course, tick).expect("a tick");
            let inside = told.notes.iter().all(|note| (0.0..=1.0 / rate + 1e-9).contains(&note.time));
            let pieces: Vec<f64> =
                told.notes.iter().filter(|n| matches!(n.seen, Seen::Piece { .. })).map(|n| n.time).collect();
            let in_order = pieces.windows(2).all(|pair| pair[0] <= pair[1] + 1e-9);
            assert!(!told.notes.is_empty() && in_order && inside, "{rate} Hz, tick {tick}: {pieces:?}");
        }
    }
}
