//! Measurements of the presets, against their numbers and against docs/measure.md.

use newel::Tuning;
use newel_lab::measure::{Band, Measure, figure, measure, obstacles, sensitivity};
use newel_lab::read_tuning;

const DOC: &str = include_str!("../../../../docs/measure.md");

/// The rows of the table of presets: measured, and what the formula says.
fn rows(measures: &[Measure]) -> Vec<String> {
    let mut names: Vec<(&str, &str)> = Vec::new();
    for outcome in measures.iter().flat_map(|m| &m.outcomes) {
        let named = (outcome.name, outcome.unit);
        if !names.contains(&named) {
            names.push(named);
        }
    }
    let cell = |measure: &Measure, name: &str| {
        let Some(outcome) = measure.outcomes.iter().find(|o| o.name == name) else { return String::new() };
        let measured = outcome.measured.map_or("-".to_owned(), figure);
        format!("{measured} / {}", outcome.formula.map_or("-".to_owned(), figure))
    };
    let row = |(name, unit): &(&str, &str)| {
        let cells: Vec<String> = measures.iter().map(|m| cell(m, name)).collect();
        format!("| {name}, {unit} | {} |", cells.join(" | "))
    };
    names.iter().map(row).collect()
}

#[test]
fn every_figure_of_every_preset_is_what_its_formula_says_and_what_the_docs_say() {
    let tunings = Tuning::PRESETS.iter().map(|name| Tuning::preset(name).expect("a preset"));
    let measures: Vec<Measure> = tunings.map(|tuning| measure(&tuning)).collect();
    for (measure, name) in measures.iter().zip(Tuning::PRESETS) {
        let off: Vec<_> = measure.outcomes.iter().filter(|o| o.flagged).map(ToString::to_string).collect();
        assert!(off.is_empty() && measure.outcomes.len() > 25, "{name}: {off:?}");
    }
    let head = format!("| | `{}` |", Tuning::PRESETS.join("` | `"));
    let missing: Vec<String> = std::iter::once(head).chain(rows(&measures)).filter(|row| !DOC.contains(row)).collect();
    assert!(missing.is_empty(), "docs/measure.md lacks these rows:\n{}", missing.join("\n"));
}

#[test]
fn a_tenth_more_changes_what_the_formula_says_it_changes() {
    let changes = sensitivity(&Tuning::heavy_explorer(), |_| {});
    let change = |path: &str, outcome: &str| {
        let column = changes.outcomes.iter().position(|o| *o == outcome)?;
        changes.fields.iter().find(|f| f.0 == path)?.1[column]
    };
    let near = |found: Option<f64>, expected: f64| assert!((found.unwrap() - expected).abs() < 0.1, "{found:?}");
    near(change("ground.speed", "top speed"), 10.0);
    near(change("ground.speed", "stops after"), 21.0);
    near(change("ground.deceleration", "stops after"), -100.0 / 11.0);
    near(change("jump.height", "landing speed"), 100.0 * (1.1f64.sqrt() - 1.0));
    near(change("jump.coyote", "coyote time as used"), 10.0);
    assert_eq!(change("jump.height", "top speed"), None, "small ones are left out");
    assert_eq!(change("gait.stride", "jump height"), None);
}

#[test]
fn what_it_makes_of_obstacles_is_what_the_tuning_and_the_docs_say() {
    let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/tunings/mast.toml");
    let tuning = read_tuning(file.as_ref()).expect("a tuning");
    let found = obstacles(&tuning);
    let words = |band: &Band| format!("{} {} to {}", band.passage.words(), band.from, band.to);
    let rows = found.iter().flat_map(|of| {
        let deep = of.deep.map_or("a block".to_owned(), |d| format!("a wall of {d} m"));
        of.bands.iter().map(move |(approach, bands)| {
            let bands: Vec<String> = bands.iter().map(words).collect();
            format!("| {deep} | {} | {} |", approach.words(), bands.join(", "))
        })
    });
    let missing: Vec<String> = rows.filter(|row| !DOC.contains(row)).collect();
    assert!(missing.is_empty(), "docs/measure.md lacks these rows:\n{}", missing.join("\n"));
    // Every figure of it, as of the presets, is what its formula says.
    let off: Vec<_> = measure(&tuning).outcomes.into_iter().filter(|o| o.flagged).map(|o| o.to_string()).collect();
    assert!(off.is_empty(), "{off:?}");
}
