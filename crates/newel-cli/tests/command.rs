//! The real command, on the demo and on files that are wrong.

use std::fs;
use std::path::{Path, PathBuf};

use assert_cmd::Command;
use tempfile::TempDir;

fn newel() -> Command {
    let mut command = Command::new(assert_cmd::cargo::cargo_bin!("newel"));
    command.current_dir(root());
    command
}

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn out(command: &mut Command) -> String {
    String::from_utf8(command.assert().success().get_output().stdout.clone()).expect("text")
}

/// Runs `newel check` on a course and returns what it says is wrong with it.
fn refusal(directory: &TempDir, course: &str) -> String {
    let file = directory.path().join("course.toml");
    fs::write(&file, course).expect("written");
    let assert = newel().arg("check").arg(&file).assert().code(2);
    String::from_utf8(assert.get_output().stderr.clone()).expect("text")
}

const FLOOR: &str = "[[terrain]]\nkind = \"floor\"\nsize = [50, 50]\n";

/// A course that is right but for the lines given.
fn course(lines: &str) -> String {
    format!("duration = 2\n{lines}\n[spawn]\nposition = [0, 0, 0]\n{FLOOR}")
}

#[test]
fn the_demo_runs_and_says_where_to_look() {
    let into = TempDir::new().expect("a directory");
    let text = out(newel().args(["demo", "--into"]).arg(into.path()));
    assert!(text.contains("Over Gull Rock") && text.contains("suspicious nothing"), "{text}");
    let picture = fs::read(into.path().join("gull-rock.png")).expect("a picture");
    assert_eq!(&picture[1..4], b"PNG");
    let trace = fs::read_to_string(into.path().join("gull-rock.csv")).expect("a trace");
    assert_eq!(trace.lines().count(), 16 * 60 + 2, "a heading, the start, and a line a tick");
    assert!(trace.starts_with("tick,time_s,x_m,"), "{}", &trace[..60]);
}

#[test]
fn the_demo_meets_its_expectations_to_the_last_bit() {
    let text = out(newel().args(["test", "demo/courses/gull-rock.toml"]));
    assert!(text.contains("7 expectations came true, 0 failed."), "{text}");
}

#[test]
fn a_failed_expectation_is_exit_code_1() {
    let directory = TempDir::new().expect("a directory");
    let file = directory.path().join("course.toml");
    fs::write(&file, course("[[expect]]\nevent = \"jumped\"\ncount = 3")).expect("written");
    let assert = newel().arg("test").arg(&file).assert().code(1);
    let text = String::from_utf8_lossy(&assert.get_output().stdout).into_owned();
    assert!(text.contains("FAILED") && text.contains("jumped: 3"), "{text}");
}

#[test]
fn a_run_writes_traces_and_pictures_whole_or_not_at_all() {
    let directory = TempDir::new().expect("a directory");
    let file = |name: &str| directory.path().join(name);
    let script = "[[script]]\nat = 0.21\nheading = [1, 0, 0]\ntap = \"jump\"";
    fs::write(file("course.toml"), course(script)).expect("written");
    let mut run = newel();
    run.args(["run", "--json", "--rate", "30", "--trace"]).arg(file("run.jsonl"));
    let json = out(run.arg("--picture").arg(file("run.svg")).arg(file("course.toml")));
    let summary: serde_json::Value = serde_json::from_str(&json).expect("JSON");
    assert_eq!(summary["jumps"], 1);
    assert_eq!(summary["rate"], 30.0);
    let lines = fs::read_to_string(file("run.jsonl")).expect("a trace");
    let rows: Vec<serde_json::Value> = lines.lines().map(|l| serde_json::from_str(l).expect("JSON")).collect();
    assert_eq!(rows.len(), 61);
    let jump = rows.iter().find(|r| r["events"].as_str().expect("text").contains("jumped@0.21")).expect("a jump");
    assert_eq!(jump["tick"], 7, "the tick that 0.21 s falls into");
    assert!(fs::read_to_string(file("run.svg")).expect("a picture").contains("<image "));

    let before = fs::read_dir(directory.path()).expect("listed").count();
    for [option, bad] in [["--picture", "run.bmp"], ["--trace", "run.xls"], ["--trace", "nowhere/run.csv"]] {
        newel().args(["run", option]).arg(file(bad)).arg(file("course.toml")).assert().code(2);
    }
    assert_eq!(fs::read_dir(directory.path()).expect("listed").count(), before, "nothing half-written");
}

#[test]
fn a_reader_that_goes_away_is_no_error() {
    let mut child = std::process::Command::new(assert_cmd::cargo::cargo_bin!("newel"))
        .args(["test", "demo/courses/gull-rock.toml"])
        .current_dir(root())
        .stdout(std::process::Stdio::piped())
        .stderr(std::process::Stdio::piped())
        .spawn()
        .expect("it starts");
    drop(child.stdout.take());
    let done = child.wait_with_output().expect("it ends");
    assert!(done.status.success() && done.stderr.is_empty(), "{}", String::from_utf8_lossy(&done.stderr));
}

#[test]
fn mistakes_in_a_course_are_shown_with_their_line() {
    let directory = TempDir::new().expect("a directory");
    let script = |lines: &str| course(&format!("[[script]]\nat = 1\n{lines}"));
    let cases = [
        (course("ratee = 60"), "course.toml:2:1: ratee: unknown field `ratee`: did you mean `rate`?"),
        (course("rate = 2"), "rate: 2 is out of range: 4 to 10000 is allowed"),
        (course("rate = nan"), "rate: NaN is not allowed: it must be a finite number"),
        (course("title = 3"), "title: a text in quotes is expected"),
        (course("[tuning]\nsize.height = -2"), "size.height is -2 m: 0.01 to 200 is allowed"),
        (course("[tuning]\nsize.hieght = 2"), "unknown field `hieght`: did you mean `height`?"),
        (course("[tuning]\npreset = \"heavy_explorrer\""), "did you mean `heavy_explorer`?"),
        (course("[tuning]\nfile = \"none.toml\""), "there is no file"),
        (course("[tuning]\nsize.radius = 1.2"), "size.radius is 1.2: a capsule is at least as high as it is wide"),
        (script("heading = [1,0,0]\n[[script]]\nat = 0.5\npress = \"jump\""), "0.5 s is before 1 s"),
        (script("press = \"jmup\""), "unknown value `jmup`: did you mean `jump`?"),
        (script("heading = [1,0]"), "a list of 3 numbers is expected"),
        (script(""), "nothing happens at this moment"),
        (course("[[script]]\nat = 9\npress = \"jump\""), "9 is out of range: 0 to 2 is allowed"),
        (course("[[expect]]\nstate = \"xyz\""), "16 hexadecimal digits"),
        ("duration = 2\n[spawn]\nposition = [0,0,0]".to_owned(), "there is no terrain"),
        (format!("duration = 2\n{FLOOR}"), "`[spawn]` is missing"),
        (format!("duration = 2\n[spawn]\nposition = [0, -0.5, 0]\n{FLOOR}"), "the nearest clear place is"),
        ("duration = = 2".to_owned(), "not TOML"),
        (course("[tuning]\nhover = true\nhover.speed = 3.0"), "a table as `true` or by its fields, not both"),
        (course("[tuning]\nhover = true\n[tuning.hover]\nspeed = 3.0"), "a table as `true` or by its fields, not both"),
        (
            course("[[expect]]\nmode = \"air\"\nevent = \"landed\""),
            "course.toml:4:9: expect[0].event: an expectation is about one thing, and this one is about `mode` already",
        ),
        (course("[[expect]]\nevent = \"landed\"\ncount = 1\nmost = 2"), "`count` says exactly 1"),
        (course("[[expect]]\nevent = \"landed\"\nleast = 3\nmost = 2"), "least: 3 is over `most`, 2"),
        (format!("duration = 0\n[spawn]\nposition = [0, 0, 0]\n{FLOOR}"), "duration: 0 is no time"),
        (
            course("[tuning]\npreset = \"walker\"\nsize.height = 0.5"),
            "tuning.size.height: size.radius is 0.3: a capsule is at least as high as it is wide",
        ),
        (
            course("[tuning]\nground.ease = 0.1\nground.acceleration = 30"),
            "`ease` takes the place of the ground's rates",
        ),
        (
            course("[[zone]]\nfrom = [0, 0, 0]\nto = [1, 0, 1]\ngravity = 0.5"),
            "zone 1 cannot act: it has no volume; two corners apart along every axis are needed",
        ),
    ];
    for (text, expected) in cases {
        let error = refusal(&directory, &text);
        assert!(error.contains(expected), "expected: {expected}\nfound: {error}");
        assert!(error.starts_with("error: ") && error.contains("course.toml"), "{error}");
    }
    let shown = refusal(&directory, &course("[tuning]\nsize.height = -2"));
    assert!(
        shown.contains("\n 3 | size.height = -2\n") && shown.contains("^^"),
        "the offending line is shown: {shown}"
    );
}

#[test]
fn meshes_that_are_not_what_they_seem_are_refused_by_name() {
    let directory = TempDir::new().expect("a directory");
    let mesh = |name: &str, bytes: &[u8]| {
        fs::write(directory.path().join(name), bytes).expect("written");
        let terrain = format!("[[terrain]]\nkind = \"mesh\"\nfile = \"{name}\"\n");
        refusal(&directory, &format!("duration = 2\n[spawn]\nposition = [0, 5, 0]\n{terrain}"))
    };
    let whole = fs::read(root().join("demo/meshes/gull-rock.glb")).expect("the demo mesh");
    let cases: [(&str, &[u8], &str); 7] = [
        ("text.glb", b"not a mesh", "text.glb: is not a usable glTF 2.0 file"),
        ("half.glb", &whole[..whole.len() / 2], "half.glb: "),
        ("empty.obj", b"", "it has no faces"),
        ("nan.obj", b"v 0 0 0\nv nan 0 0\nv 0 0 1\nf 1 2 3\n", "nan.obj: "),
        ("flat.obj", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "none of the 1 triangles has an area"),
        ("range.obj", b"v 0 0 0\nv 1 0 0\nv 0 0 1\nf 1 2 9\n", "range.obj: "),
        ("mesh.stl", b"solid", "unknown ending `.stl`"),
    ];
    for (name, bytes, expected) in cases {
        let error = mesh(name, bytes);
        assert!(error.contains(expected), "{name}: expected: {expected}\nfound: {error}");
    }
}

#[test]
fn obj_and_primitives_make_a_level() {
    let directory = TempDir::new().expect("a directory");
    let quay = "v -9 0 -9\nv 9 0 -9\nv 9 0 9\nv -9 0 9\nf 1 4 3 2\n";
    fs::write(directory.path().join("quay.obj"), quay).expect("written");
    let text = "duration = 3\n[spawn]\nposition = [-6, 0, 0]\n\
        [[terrain]]\nkind = \"mesh\"\nfile = \"quay.obj\"\nsurface = \"stone\"\n\
        [[terrain]]\nkind = \"ramp\"\nfrom = [-4, 0, 0]\nto = [-1, 1, 0]\nwidth = 2\n\
        [[terrain]]\nkind = \"box\"\nat = [0, 0, 0]\nsize = [2, 1, 2]\n\
        [[terrain]]\nkind = \"stairs\"\nat = [2.5, 0, 0]\nrise = 0.2\ntread = 0.3\nwidth = 2\ncount = 5\nturn = 180\n\
        [[terrain]]\nkind = \"cylinder\"\nat = [0, 0, 4]\nradius = 1\nheight = 2\n\
        [[script]]\nat = 0\nheading = [1, 0, 0]\n\
        [[expect]]\nclear = true\n[[expect]]\nmode = \"ground\"\n[[expect]]\nevent = \"left_ground\"\ncount = 0\n\
        [[expect]]\nposition = [7.0, 0, 0]\nwithin = 0.3\n";
    let file = directory.path().join("course.toml");
    fs::write(&file, text).expect("written");
    let said = out(newel().arg("test").arg(&file));
    assert!(said.contains("4 expectations came true"), "{said}");
}

#[test]
fn a_tick_is_explained_in_words_and_in_a_picture() {
    let directory = tempfile::tempdir().expect("a directory");
    let picture = directory.path().join("tick.svg");
    let told = newel()
        .args(["explain", "demo/courses/gull-rock.toml", "--tick", "606", "--picture"])
        .arg(&picture)
        .output()
        .expect("a run");
    let told = String::from_utf8(told.stdout).expect("text");
    let at = newel().args(["explain", "demo/courses/gull-rock.toml", "--at", "10.09"]).output().expect("a run");
    assert_eq!(String::from_utf8(at.stdout).expect("text"), told, "the same tick by a moment in it");
    for expected in
        ["tick 606: 10.0833 s to 10.1000 s", "in the air: 7.379 m/s", "(plank, 0°", "is firm", "event: landed"]
    {
        assert!(told.contains(expected), "{expected:?} is not in:\n{told}");
    }
    let landed = told.find("event: landed").expect("said above");
    let (before, after) = told.split_at(landed);
    let moved = [before, after].map(|part| part.matches(" moved ").count());
    assert_eq!(moved, [2, 1], "events stand in order:\n{told}");
    let drawn = std::fs::read_to_string(&picture).expect("a picture");
    assert!(drawn.contains("along the way, cm") && drawn.contains("up, cm"));
    let refused = newel().args(["explain", "demo/courses/gull-rock.toml", "--tick", "9999"]).output().expect("a run");
    assert_eq!(refused.status.code(), Some(2));
    let why = String::from_utf8(refused.stderr).expect("text");
    assert!(why.contains("tick is 9999: 1 to 960 is allowed"), "{why}");
}

#[test]
fn a_tuning_is_measured_in_a_table_as_json_and_in_pictures() {
    let directory = TempDir::new().expect("a directory");
    let pictures = directory.path().join("pictures");
    let said = out(newel().args(["measure", "demo/tunings/keeper.toml", "--pictures"]).arg(&pictures));
    assert!(said.contains("jump height") && said.contains("Every figure is what its formula says."), "{said}");
    for name in ["speed.png", "jumps.png", "shapes.png"] {
        let bytes = fs::read(pictures.join(name)).expect("a picture");
        assert!(bytes.starts_with(b"\x89PNG") && bytes.len() > 10_000, "{name}");
    }
    let json: serde_json::Value =
        serde_json::from_str(&out(newel().args(["measure", "brisk_hero", "--json"]))).expect("JSON");
    let outcomes = json["outcomes"].as_array().expect("a list");
    let top = outcomes.iter().find(|o| o["name"] == "top speed").expect("a figure");
    assert_eq!(
        (top["measured"].as_f64(), top["unit"].as_str(), top["flagged"].as_bool()),
        (Some(6.5), Some("m/s"), Some(false))
    );
    let refused = newel().args(["measure", "brisk"]).output().expect("a run");
    assert_eq!(refused.status.code(), Some(2));
    let why = String::from_utf8(refused.stderr).expect("text");
    assert!(why.contains("brisk: is neither a tuning file nor a preset; the presets are walker, "), "{why}");
}

#[test]
fn lanes_say_what_was_refused_and_why() {
    let directory = TempDir::new().expect("a directory");
    let lanes = directory.path().join("lanes.svg");
    out(newel().args(["run", "demo/courses/practice.toml", "--span", "2.5..8", "--lanes"]).arg(&lanes));
    let drawn = fs::read_to_string(&lanes).expect("a picture");
    for expected in
        ["press waits", "coyote time", "no jump: nothing to push off from", "jumped off lost ground", "nudged"]
    {
        assert!(drawn.contains(expected), "{expected}");
    }
    let refused = newel().args(["run", "demo/courses/practice.toml", "--span", "8..2"]).output().expect("a run");
    assert_eq!(refused.status.code(), Some(2));
}

#[test]
fn a_tuning_file_takes_abilities_away_and_leaves_numbers_out() {
    let directory = TempDir::new().expect("a directory");
    let file = directory.path().join("plain.toml");
    let text = "preset = \"brisk_hero\"\ndash = false\nwall_jump = false\n[jump]\ntap_height = false\nextra = 0\n\
        [turn]\ntoward = \"view\"\n[gait]\nrestart = false\n";
    fs::write(&file, text).expect("written");
    let said = out(newel().arg("measure").arg(&file));
    assert!(!said.contains("dash") && !said.contains("wall jump") && !said.contains("tapped"), "{said}");
    assert!(said.contains("wall slide speed"), "{said}");
    for (wrong, expected) in [
        ("[jump]\nextra = 1.5\n", "jump.extra is 1.5: a whole number from 0 to 16 is allowed"),
        ("[turn]\ntoward = \"viev\"\n", "view"),
        ("[dash]\ndistanse = 3\n", "distance"),
        ("[stick]\ndead_zone = 0.9\nfull_zone = 0.5\n", "stick.full_zone is allowed"),
    ] {
        fs::write(&file, wrong).expect("written");
        let refused = newel().arg("measure").arg(&file).output().expect("a run");
        let why = String::from_utf8(refused.stderr).expect("text");
        assert!(refused.status.code() == Some(2) && why.contains(expected), "{wrong}: {why}");
    }
}

#[test]
fn a_tuning_is_proved_over_generated_land_and_a_kept_cut_is_done_again() {
    let kept = TempDir::new().expect("a directory");
    let text = out(newel()
        .args([
            "prove",
            "demo/tunings/keeper.toml",
            "--walks",
            "5",
            "--first",
            "10",
            "--cuts",
            "500",
            "--worlds",
            "0",
            "--keep",
        ])
        .arg(kept.path()));
    assert!(text.starts_with("5 walks of 30 s") && text.contains("random ticks") && text.contains("ticks cut in two"));
    let cut = kept.path().join("01.json");
    let again = out(newel().args(["prove", "--again"]).arg(&cut));
    assert!(again.contains("walk ") && again.contains("ends ") && again.contains("events "), "{again}");
    fs::write(&cut, "{}").expect("written");
    newel().args(["prove", "--again"]).arg(&cut).assert().code(2);
    newel().args(["prove", "nobody"]).assert().code(2);
}

#[test]
fn what_is_odd_is_warned_about_and_what_is_refused_says_why() {
    let directory = TempDir::new().expect("a directory");
    let file = directory.path().join("odd.toml");
    let odd = "[tuning]\njump = false\nground.acceleration = 0\n[[script]]\nat = 0.5\ntap = \"jump\"";
    fs::write(&file, course(odd)).expect("written");
    for arguments in [vec!["check"], vec!["run"], vec!["run", "--json"]] {
        let done = newel().args(&arguments).arg(&file).output().expect("a run");
        let (said, warned) = (String::from_utf8(done.stdout).unwrap(), String::from_utf8(done.stderr).unwrap());
        assert!(done.status.success() && warned.contains("warning: ground.acceleration: 0 m/s²"), "{warned}");
        assert!(warned.contains("warning: script: presses jump at 0.5 s"), "{warned}");
        match arguments.as_slice() {
            ["run"] => assert!(said.contains("refused    no jump: not in the tuning at 0.50 s"), "{said}"),
            ["run", ..] => assert!(serde_json::from_str::<serde_json::Value>(&said).is_ok(), "{said}"),
            _ => {}
        }
    }
    let told = out(newel().arg("explain").arg(&file).args(["--at", "0.5"]));
    assert!(told.contains("event: refused: no jump: not in the tuning"), "{told}");
    let measured = newel().args(["measure", "walker", "--json"]).output().expect("a run");
    assert!(measured.stderr.is_empty(), "a preset is not odd");
    let fails = |arguments: &[&str], expected: &str| {
        let done = newel().args(arguments).output().expect("a run");
        let why = String::from_utf8(done.stderr).unwrap();
        assert!(done.status.code() == Some(2) && why.contains(expected), "{why}");
    };
    fails(
        &["explain", "demo/courses/gull-rock.toml", "--at", "99"],
        "--at 99: the course runs from 0 s to before 16 s",
    );
    fails(&["run", "demo/courses/gull-rock.toml", "--span", "1..2"], "--lanes");
    // An event that is only named is expected to happen.
    fs::write(&file, course("[[expect]]\nevent = \"landed\"")).expect("written");
    let failed = newel().arg("test").arg(&file).assert().code(1);
    let said = String::from_utf8(failed.get_output().stdout.clone()).unwrap();
    assert!(said.contains("landed: 1 to any number"), "{said}");
}
