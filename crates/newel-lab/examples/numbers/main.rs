//! Whether every number of every table of a tuning moves a figure of the measure: by a tenth more, or else by other changes.
//!
//! `cargo run --release -p newel-lab --example numbers`

use newel::{FIELDS, Field, Tuning};
use newel_lab::measure::{Measure, measure, sensitivity};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let (tuning, other) = (with_everything(), without_overrides()?);
    let (plain, by_a_tenth) = (measure(&tuning), sensitivity(&tuning, |_| {}));
    let plain_other = measure(&other);
    let mut idle = Vec::new();
    let mut otherwise = 0;
    for field in FIELDS {
        if by_a_tenth.fields.iter().any(|(path, _)| *path == field.path) {
            continue;
        }
        let found = changes(&tuning, field).find_map(|(value, m)| Some((value, moved(&plain, &m)?)));
        let found =
            found.or_else(|| changes(&other, field).find_map(|(value, m)| Some((value, moved(&plain_other, &m)?))));
        match found {
            Some((value, figure)) => {
                otherwise += 1;
                println!("{} as {value}: {figure}", field.path);
            }
            None => idle.push(field.path),
        }
    }
    println!(
        "{} numbers: {} move a figure by a tenth more, {otherwise} by other changes",
        FIELDS.len(),
        by_a_tenth.fields.len()
    );
    if idle.is_empty() { Ok(()) } else { Err(format!("nothing moves by {}", idle.join(", ")).into()) }
}

/// Measures with a number changed in other ways.
fn changes<'a>(tuning: &'a Tuning, field: &'a Field) -> impl Iterator<Item = (f32, Measure)> + use<'a> {
    let value = (field.get)(tuning.values()).unwrap_or(0.0);
    let values = [0.9 * value, 0.5 * value, 2.0 * value, 4.0 * value, value + 1.0, value + 0.1, value + 20.0, 0.0];
    values.into_iter().filter_map(|value| {
        let mut values = *tuning.values();
        (field.set)(&mut values, if field.whole { value.round() } else { value });
        Some((value, measure(&Tuning::new(values).ok()?)))
    })
}

/// The first figure that is another one.
fn moved(plain: &Measure, changed: &Measure) -> Option<&'static str> {
    let differs = |name: &str| match (plain.figure(name), changed.figure(name)) {
        (Some(before), Some(after)) => (after - before).abs() > 2e-3 * before.abs().max(1e-6),
        (before, after) => before.is_some() != after.is_some(),
    };
    plain.outcomes.iter().map(|outcome| outcome.name).find(|name| differs(name))
}

/// The same without the numbers that take the place of others.
fn without_overrides() -> Result<Tuning, newel::TuningError> {
    let mut values = *with_everything().values();
    values.jump.iter_mut().for_each(|jump| (jump.time_to_top, jump.time_down) = (None, None));
    values.sprint.iter_mut().for_each(|sprint| (sprint.cone, sprint.keeps) = (180.0, None));
    Tuning::new(values)
}

/// A tuning that has every table, and in which every number counts.
fn with_everything() -> Tuning {
    let (plain, brisk) = (*Tuning::walker().values(), *Tuning::brisk_hero().values());
    let mut values = newel::TuningValues {
        jump: brisk.jump,
        dash: brisk.dash,
        wall_slide: brisk.wall_slide,
        wall_jump: brisk.wall_jump,
        slide: Some(newel::Slide { fastest: 30.0, ..newel::Slide::default() }),
        climb: Some(newel::Climb { rung: 0.3, deceleration: 3.0, ..newel::Climb::default() }),
        ledge: Some(newel::Ledge { depth: 0.7, ..newel::Ledge::for_size(&plain.size) }),
        vault: Some(newel::Vault::default()),
        hover: Some(newel::Hover { holds: newel::Holds::Ground, windage: 0.3, ..newel::Hover::default() }),
        prone: Some(newel::LowStance::prone()),
        ..plain
    };
    values.jump.iter_mut().for_each(|jump| (jump.extra, jump.lean) = (2.0, 0.5));
    values.prone.iter_mut().for_each(|prone| (prone.radius, prone.height) = (Some(0.2), Some(0.7)));
    values.crouch.iter_mut().for_each(|crouch| (crouch.radius, crouch.height) = (Some(0.25), Some(1.1)));
    values.dash.iter_mut().for_each(|dash| dash.in_air = 2.0);
    values.sprint.iter_mut().for_each(|sprint| {
        (sprint.cone, sprint.keeps) = (100.0, Some(120.0));
        (sprint.sideways, sprint.backward) = (Some(0.7), Some(0.6));
    });
    values.impact = newel::Impact { slowed: 0.5, lasts: 1.0, damage: 2.0, softened: 2.0, ..values.impact };
    values.ground = newel::OnGround {
        uphill: 0.8,
        downhill: 1.2,
        step_loss: 0.3,
        fly_off: Some(0.1),
        windage: 0.2,
        sideways: 0.8,
        backward: 0.7,
        ..values.ground
    };
    values.swim.iter_mut().for_each(|swim| swim.sprint = Some(3.0));
    values.air = newel::InAir { drag: 0.05, terminal: Some(40.0), excess_loss: 2.0, ..values.air };
    values.stick = newel::Stick { dead_zone: 0.15, full_zone: 0.9, curve: 1.5, ..values.stick };
    Tuning::new(values).expect("a tuning")
}
