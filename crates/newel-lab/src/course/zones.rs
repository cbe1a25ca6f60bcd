//! Zones in course files: boxes in which something holds.

use newel::glam::{DVec3, Vec3};
use newel::{Effect, Gusts, Pull, Wind, Zone};

use super::file::read_hold;
use super::script::read_launch;
use crate::error::FileError;
use crate::reader::Table;

/// The effects that a zone may have, of which it has one.
const EFFECTS: [&str; 9] = ["gravity", "pull", "point", "segment", "circle", "ground", "launch", "wind", "hold"];

pub(super) fn read_zone(table: &Table<'_>, index: usize) -> Result<Zone, FileError> {
    let (from, to) = (vector(table.required_numbers::<3>("from")?), vector(table.required_numbers::<3>("to")?));
    let given: Vec<_> = EFFECTS.into_iter().filter(|effect| table.has(effect)).collect();
    let effect = match given[..] {
        [one] => read_effect(table, one)?,
        [] => return Err(table.error(format!("what it does is missing: one of {}", EFFECTS.join(", ")))),
        [_, second, ..] => {
            return Err(table.field_error(second, format!("one zone has one of {}", EFFECTS.join(", "))));
        }
    };
    let zone = Zone::new(index as u64 + 1, from.min(to), from.max(to), effect);
    let zone = zone.before(table.number("priority", -1000.0..=1000.0)?.unwrap_or(0.0) as i32);
    let zone = zone.blended(table.number("blend", 0.0..=1000.0)?.unwrap_or(0.0));
    table.finish()?;
    Ok(zone)
}

fn read_effect(table: &Table<'_>, name: &'static str) -> Result<Effect, FileError> {
    if name == "gravity" {
        return Ok(Effect::Gravity(table.required(name, 0.0..=10.0)? as f32));
    }
    if name == "ground" {
        return Ok(Effect::Pull(Pull::Ground(table.required(name, 0.0..=100.0)? as f32)));
    }
    if name == "launch" {
        return Ok(read_launch(table)?.map_or(Effect::Gravity(1.0), Effect::Launch));
    }
    if name == "wind" {
        return read_wind(table).map(Effect::Wind);
    }
    if name == "hold" {
        let hold = read_hold(table)?.unwrap_or_default();
        let out = table.numbers::<3>("out")?.map_or(Vec3::ZERO, |out| vector(out).normalize_or_zero().as_vec3());
        return Ok(Effect::Hold { hold, out });
    }
    let first = vector(table.required_numbers::<3>(match name {
        "segment" => "segment",
        "circle" => "circle",
        "point" => "point",
        _ => "pull",
    })?);
    if name == "pull" {
        return Ok(Effect::Pull(Pull::Along(first.as_vec3())));
    }
    let strength = table.number("strength", -100.0..=100.0)?.unwrap_or(1.0) as f32;
    Ok(Effect::Pull(match name {
        "segment" => Pull::Segment { from: first, to: vector(table.required_numbers::<3>("end")?), strength },
        "circle" => {
            let axis =
                table.numbers::<3>("axis")?.map_or(Vec3::Y, |axis| vector(axis).normalize_or(DVec3::Y).as_vec3());
            Pull::Circle { middle: first, axis, radius: table.required("radius", 0.0..=1e6)?, strength }
        }
        _ => Pull::Point { middle: first, strength },
    }))
}

/// A wind, and how it comes and goes where it does.
fn read_wind(table: &Table<'_>) -> Result<Wind, FileError> {
    let velocity = vector(table.required_numbers::<3>("wind")?);
    if velocity.length() > 300.0 {
        return Err(table.field_error("wind", "at most 300 m/s".to_owned()));
    }
    let steady = Wind::steady(velocity.as_vec3());
    let Some(every) = table.number("every", 0.01..=3600.0)? else { return Ok(steady) };
    let lasts = table.required("lasts", 0.0..=3600.0)?;
    if lasts > every {
        return Err(table.field_error("lasts", format!("a gust ends before the next: at most every = {every}")));
    }
    let swells = table.number("swells", 0.0..=1800.0)?.unwrap_or(0.0);
    let lull = table.number("lull", 0.0..=1.0)?.unwrap_or(0.0) as f32;
    let since = table.number("since", -3600.0..=3600.0)?.unwrap_or(0.0);
    Ok(steady.in_gusts(Gusts { every, lasts, swells, lull, since }))
}

fn vector(numbers: [f64; 3]) -> DVec3 {
    DVec3::from_array(numbers)
}
