//! Each warning, and its opposite.

use std::path::PathBuf;

use newel::{Climb, Dash, Hover, LowStance, Slide, Swim, Toward, Tuning, TuningValues, WallSlide};
use newel_lab::{Course, course_warnings, read_tuning, tuning_warnings};

/// The fields warned about once a walker is changed.
fn fields(change: impl Fn(&mut TuningValues)) -> Vec<&'static str> {
    let mut values = *Tuning::walker().values();
    change(&mut values);
    let warnings = tuning_warnings(&Tuning::new(values).expect("a tuning"));
    assert!(warnings.iter().all(|w| w.message.contains("usual")), "{warnings:?}: what would be usual");
    warnings.iter().map(|w| w.field).collect()
}

type Change = fn(&mut TuningValues);

#[test]
fn what_is_odd_is_warned_about_and_its_opposite_is_not() {
    let cases: [(&str, Change, Change); 27] = [
        ("ground.speed", |v| v.ground.speed = 0.0, |v| v.ground.speed = 2.0),
        ("ground.acceleration", |v| v.ground.acceleration = 0.0, |v| v.ground.acceleration = 1.0),
        ("ground.deceleration", |v| v.ground.deceleration = 0.0, |v| v.ground.deceleration = 1.0),
        ("ground.steepest", |v| v.ground.steepest = 15.0, |v| v.ground.steepest = 25.0),
        ("ground.steepest", |v| v.ground.steepest = 75.0, |v| v.ground.steepest = 65.0),
        ("ground.step", |v| v.ground.step = 0.0, |v| v.ground.step = 0.1),
        ("size.height", |v| v.size.height = 18.0, |v| v.size.height = 3.0),
        ("air.gravity", |v| v.air.gravity = 0.0, |v| v.air.gravity = 3.0),
        ("air.acceleration", |v| v.air.acceleration = 0.0, |v| (v.air.acceleration, v.air.speed) = (0.0, 0.0)),
        ("air.terminal", |v| v.air.terminal = Some(2.0), |v| v.air.terminal = Some(30.0)),
        ("impact.safe", |v| v.impact.safe = 2.0, |v| v.impact.safe = 9.0),
        ("jump.height", |v| v.jump.as_mut().unwrap().height = 0.0, |v| v.jump = None),
        (
            "jump.time_to_top",
            |v| v.jump.as_mut().unwrap().time_to_top = Some(1.5),
            |v| {
                v.jump.as_mut().unwrap().time_to_top = Some(0.8);
            },
        ),
        ("jump.coyote", |v| v.jump.as_mut().unwrap().coyote = 0.31, |v| v.jump.as_mut().unwrap().coyote = 0.3),
        ("jump.buffer", |v| v.jump.as_mut().unwrap().buffer = 0.5, |v| v.jump.as_mut().unwrap().buffer = 0.2),
        ("jump.nudge", |v| v.jump.as_mut().unwrap().nudge = 0.4, |v| v.jump.as_mut().unwrap().nudge = 0.2),
        ("sprint.speed", |v| v.sprint.as_mut().unwrap().speed = 3.0, |v| v.sprint = None),
        (
            "slide.from",
            |v| v.slide = Some(Slide { from: 9.0, fastest: 12.0, ..Slide::default() }),
            |v| {
                v.slide = Some(Slide { from: 5.0, ..Slide::default() });
            },
        ),
        (
            "dash.distance",
            |v| v.dash = Some(Dash { distance: 0.5, time: 0.5, ..Dash::default() }),
            |v| {
                v.dash = Some(Dash::default());
            },
        ),
        (
            "crouch.height",
            |v| v.crouch = Some(LowStance { height: Some(1.75), ..LowStance::crouch() }),
            |v| v.crouch = Some(LowStance::crouch()),
        ),
        (
            "wall_slide.speed",
            |v| {
                v.air.terminal = Some(20.0);
                v.wall_slide = Some(WallSlide { speed: 25.0, ..WallSlide::default() });
            },
            |v| v.wall_slide = Some(WallSlide { speed: 25.0, ..WallSlide::default() }),
        ),
        (
            "hover.speed",
            |v| v.hover = Some(Hover { speed: 0.0, ..Hover::default() }),
            |v| {
                v.hover = Some(Hover::default());
            },
        ),
        ("climb.up", |v| v.climb = Some(Climb { up: 0.0, ..Climb::default() }), |v| v.climb = Some(Climb::default())),
        ("swim.speed", |v| v.swim = Some(Swim { speed: 0.0, ..Swim::default() }), |v| v.swim = Some(Swim::default())),
        (
            "turn.rate",
            |v| (v.turn.toward, v.turn.rate) = (Toward::Movement, 45.0),
            |v| {
                (v.turn.toward, v.turn.rate) = (Toward::View, 45.0);
            },
        ),
        ("stick.dead_zone", |v| v.stick.dead_zone = 0.5, |v| v.stick.dead_zone = 0.3),
        ("sprint.speed", |v| v.ground.speed = 8.0, |v| v.ground.speed = 6.0),
    ];
    for (field, odd, usual) in cases {
        assert!(fields(odd).contains(&field), "{field}: {:?}", fields(odd));
        assert!(!fields(usual).contains(&field), "{field}: {:?}", fields(usual));
    }
}

#[test]
fn presets_and_the_demo_are_not_odd() {
    for name in Tuning::PRESETS {
        let warnings = tuning_warnings(&Tuning::preset(name).unwrap());
        assert!(warnings.is_empty(), "{name}: {warnings:?}");
    }
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo");
    for entry in std::fs::read_dir(format!("{demo}/tunings")).unwrap() {
        let file = entry.unwrap().path();
        let warnings = tuning_warnings(&read_tuning(&file).unwrap());
        assert!(warnings.is_empty(), "{}: {warnings:?}", file.display());
    }
    for entry in std::fs::read_dir(format!("{demo}/courses")).unwrap() {
        let file = entry.unwrap().path();
        let warnings = course_warnings(&Course::load(&file).unwrap());
        assert!(warnings.is_empty(), "{}: {warnings:?}", file.display());
    }
}

#[test]
fn a_course_is_odd_with_ramps_too_steep_and_buttons_that_do_nothing() {
    let course = |degrees: u32, button: &str| {
        let tangent = f64::from(degrees).to_radians().tan();
        let text = format!(
            "duration = 2\n[spawn]\nposition = [0, 0.1, 0]\n[[terrain]]\nkind = \"floor\"\nsize = [10, 10]\n\
             [[terrain]]\nkind = \"ramp\"\nfrom = [5, 0, 0]\nto = [9, {}, 0]\nwidth = 6\n\
             [[script]]\nat = 1\npress = \"{button}\"\n",
            4.0 * tangent
        );
        Course::from_text(PathBuf::from("odd.toml"), text).unwrap_or_else(|e| panic!("{e}"))
    };
    let fields = |course: &Course| course_warnings(course).iter().map(|w| w.field).collect::<Vec<_>>();
    assert_eq!(fields(&course(30, "jump")), Vec::<&str>::new());
    assert_eq!(fields(&course(50, "jump")), ["ground.steepest"]);
    assert_eq!(fields(&course(30, "hover")), ["script"]);
}
