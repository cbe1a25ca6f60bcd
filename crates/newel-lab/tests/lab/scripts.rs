//! Everything a script can say, played.

use std::path::PathBuf;

use newel::EventKind;
use newel_lab::{Course, Summary, Trace, run};

const PLACE: &str = "rate = 60\n[spawn]\nposition = [0, 0, 0]\nfacing = [1, 0, 0]\n\
    [[terrain]]\nkind = \"floor\"\nsurface = \"ice\"\nsize = [400, 400]\n";

fn course(rest: &str) -> Course {
    let text = format!("duration = 4\n{PLACE}{rest}");
    Course::from_text(PathBuf::from("script.toml"), text).unwrap_or_else(|e| panic!("{e}"))
}

fn played(rest: &str) -> Trace {
    run(&course(rest), |_| {}).expect("a run")
}

#[test]
fn every_heading_and_every_facing_is_read() {
    let end =
        |way: &str| played(&format!("[[script]]\nat = 0\nview = [0, 0, -1]\n{way}\n")).rows.last().copied().unwrap();
    assert!(end("stick = [0, 1]").position.z < -15.0 && end("stick = [1, 0]").position.x > 15.0);
    assert!(end("screen = [1, 0]").position.x > 15.0);
    assert!(end("surface = [0, 1]").position.z < -15.0, "where nothing is climbed, as the view looks");
    assert!(end("body = [0, 1]\nface = \"nothing\"").position.x > 15.0);
    assert!(end("body = [-1, 0]\nface = \"nothing\"").position.z < -15.0, "left of +X");
    let circle = end("turn_and_go = [0.125, 1]");
    assert!(circle.position.length() < 6.0 && circle.turn_rate < -80.0, "{circle:?}");
    assert!(end("face = \"view\"").facing.z < -0.99);
    assert!(end("heading = [0, 0, 1]\nface = [0, 0, -50]").facing.z < -0.99);
    let both = Course::from_text(
        PathBuf::from("x"),
        format!("duration = 1\n{PLACE}[[script]]\nat = 0\nbody = [0, 1]\nstick = [0, 1]"),
    );
    assert!(
        both.unwrap_err()
            .to_string()
            .contains("one moment has one of heading, stick, body, turn_and_go, screen, surface, toward")
    );
}

#[test]
fn a_guard_keeps_it_from_the_edge_until_it_is_off() {
    let toward = "[[script]]\nat = 0\nteleport = [195, 0, 0]\nheading = [1, 0, 0]\nguard = true\n";
    let kept = played(toward).rows.last().copied().unwrap();
    assert!((kept.position.x - 200.15).abs() < 0.05 && kept.position.y > -0.1, "{}", kept.position);
    let off = played(&format!("{toward}[[script]]\nat = 3.5\nguard = false\n")).rows.last().copied().unwrap();
    assert!(off.position.x > 200.3 && off.position.y < -0.1, "{}", off.position);
}

#[test]
fn being_put_elsewhere_is_no_way_gone() {
    let trace = played("[[script]]\nat = 1\nteleport = [50, 0, 0]\n[[script]]\nat = 2\nteleport = [-60, 0, 0]\n");
    assert_eq!((trace.count("teleported"), Summary::of(&trace).distance_m), (2, 0.0));
}

#[test]
fn modifiers_surfaces_and_displacement_are_played_told_and_hashed() {
    let go = "[[script]]\nat = 0\nheading = [1, 0, 0]\n";
    let plain = played(go);
    let slowed =
        played(&format!("{go}[[script]]\nat = 1\nmodifiers = {{ speed = 0.5, can_jump = false }}\ntap = \"jump\"\n"));
    let row = slowed.rows.last().unwrap();
    assert!((row.speed - 2.25).abs() < 1e-5 && row.speed_factor == 0.5, "{row:?}");
    assert!(slowed.events.iter().any(|e| matches!(e.kind, EventKind::Refused { .. })));
    let csv = String::from_utf8(slowed.to_csv(&[]).expect("CSV")).expect("text");
    assert!(csv.lines().last().unwrap().contains("speed=0.5 can_jump=false"), "{}", csv.lines().last().unwrap());
    assert_ne!(plain.inputs, slowed.inputs);
    assert_eq!(
        plain.inputs,
        played(&format!("{go}[tuning]\nground.speed = 3\n")).inputs,
        "the same inputs, another tuning"
    );
    assert_ne!(plain.hash, slowed.hash);

    let slippery = played(&format!("{go}[[surface]]\nname = \"ice\"\ngrip = 0.1\n"));
    assert!((slippery.at(1.0).speed - 3.0).abs() < 1e-4, "a tenth of 30 m/s² for a second: {}", slippery.at(1.0).speed);
    let moved = played("[[script]]\nat = 1\ndisplace = [2, 0, 0]\n");
    assert!((moved.rows.last().unwrap().position.x - 2.0).abs() < 1e-5 && Summary::of(&moved).suspicious.is_empty());

    let unknown = format!("duration = 1\n{PLACE}[[surface]]\nname = \"mud\"\n");
    let why = Course::from_text(PathBuf::from("x"), unknown).unwrap_err().to_string();
    assert!(why.contains("nothing here is made of `mud`; there is ice"), "{why}");
}

#[test]
fn a_long_script_is_read_in_parts_and_every_mistake_keeps_its_line() {
    let many = 40_000;
    let text = |bad: usize| {
        let moment = |n: usize| {
            let x = if n == bad { "nan" } else { "0.25" };
            format!("[[script]]\nat = {:.4} # the moment {n}\nheading = [{x}, 0, 0.5]\n", n as f64 / 1e4)
        };
        let head = "duration = 9\n[spawn]\nposition = [0, 0, 0]\n[[terrain]]\nkind = \"floor\"\nsize = [9, 9]\n";
        let tail = "[[expect]]\nat = 0.1\nmode = \"ground\"\n";
        format!("{head}{}{tail}", (0..many).map(moment).collect::<String>())
    };
    let read = |text: String| Course::from_text(PathBuf::from("long.toml"), text);
    let long = read(text(many)).unwrap();
    assert!(text(many).len() > 1_000_000 && long.script.moments.len() == many && long.expectations.len() == 1);
    // A string over several lines keeps it from being read in parts: it is the same script.
    assert_eq!(long.script, read(format!("title = \"\"\"\nlong\"\"\"\n{}", text(many))).unwrap().script);
    for bad in [0, 5000, many - 1] {
        let why = read(text(bad)).unwrap_err().to_string();
        let line = 7 + 3 * bad + 2;
        assert!(why.contains(&format!("long.toml:{line}:12: script[{bad}].heading")), "{why}");
    }
    let twice = read(format!("script = []\n{}", text(many))).unwrap_err().to_string();
    assert!(twice.contains("`script` is given twice"), "{twice}");
}
