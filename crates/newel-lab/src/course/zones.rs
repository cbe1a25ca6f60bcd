//! Zones in course files: boxes in which something holds.

use newel::glam::{DVec3, Vec3};
use newel::{Effect, Gusts, Hold, Pull, Sensor, Swell, Water, WaterSurface, Waves, Wind, Zone};

use super::script::read_launch;
use crate::error::FileError;
use crate::reader::Table;

/// The effects that a zone may have, of which it has one.
const EFFECTS: [&str; 10] =
    ["gravity", "pull", "point", "segment", "circle", "ground", "launch", "wind", "hold", "water"];

/// The number of the zone that is the sea; others begin at 1.
pub(crate) const SEA: u64 = 0;

/// The sea all round, up to a level.
pub(super) fn sea(level: f64) -> Zone {
    let (min, max) = (DVec3::new(-1e6, level - 1e3, -1e6), DVec3::new(1e6, level, 1e6));
    Zone::new(SEA, min, max, Effect::Water(Water::flat(DVec3::Y * level, Vec3::Y)))
}

/// A zone, and the number of the terrain that it moves with, if it does.
pub(super) fn read_zone(table: &Table<'_>, index: usize) -> Result<(Zone, Option<u64>), FileError> {
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
    let on = table.number("on", 1.0..=1e6)?.map(|on| on as u64);
    if on.is_some() && !matches!(zone.effect, Effect::Water(_)) {
        return Err(table.field_error("on", "only water moves with what holds it: this is no water"));
    }
    table.finish()?;
    Ok((zone, on))
}

/// A sensor's name, the number of the terrain that it moves with, 0 for none, and the sensor.
pub(super) fn read_sensor(table: &Table<'_>, index: usize, pieces: usize) -> Result<(String, u64, Sensor), FileError> {
    let (from, to) = (vector(table.required_numbers::<3>("from")?), vector(table.required_numbers::<3>("to")?));
    let name = table.text("name")?.map_or_else(|| format!("sensor {}", index + 1), str::to_owned);
    let on = table.number("on", 1.0..=pieces as f64)?.map_or(0, |on| on as u64);
    table.finish()?;
    Ok((name, on, Sensor::new(index as u64 + 1, from, to)))
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
    if name == "water" {
        return read_water(table).map(Effect::Water);
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

/// Message about a wind or a current that is too fast.
fn too_fast(velocity: DVec3) -> String {
    format!("{:.1} m/s is too fast: at most 300 m/s is allowed", velocity.length())
}

/// A wind, and how it comes and goes where it does.
fn read_wind(table: &Table<'_>) -> Result<Wind, FileError> {
    let velocity = vector(table.required_numbers::<3>("wind")?);
    if velocity.length() > 300.0 {
        return Err(table.field_error("wind", too_fast(velocity)));
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

/// Water: where its surface is, how that waves and how it flows.
fn read_water(table: &Table<'_>) -> Result<Water, FileError> {
    let at = vector(table.required_numbers::<3>("water")?);
    let up = table.numbers::<3>("up")?.map_or(DVec3::Y, |up| vector(up).normalize_or(DVec3::Y)).as_vec3();
    let surface = match table.number("radius", 0.01..=1e6)? {
        Some(radius) => WaterSurface::Round { middle: at, radius },
        None => WaterSurface::Flat { through: at, up },
    };
    let current = table.numbers::<3>("current")?.map_or(DVec3::ZERO, vector);
    if current.length() > 300.0 {
        return Err(table.field_error("current", too_fast(current)));
    }
    let swells = table.tables("swells")?;
    if swells.len() > Waves::MOST_SWELLS {
        let (given, most) = (swells.len(), Waves::MOST_SWELLS);
        return Err(table.field_error("swells", format!("{given} swells are too many: at most {most} are allowed")));
    }
    let water = Water::up_to(surface).flowing(current.as_vec3());
    swells.iter().try_fold(water, |water, swell| Ok(water.with_swell(read_swell(swell)?)))
}

fn read_swell(table: &Table<'_>) -> Result<Swell, FileError> {
    let along = vector(table.required_numbers::<3>("along")?).normalize_or_zero().as_vec3();
    if along == Vec3::ZERO {
        return Err(
            table.field_error("along", "a zero vector points nowhere: give the way it travels, such as [1, 0, 0]")
        );
    }
    let swell = Swell {
        along,
        height: table.required("height", 0.0..=100.0)? as f32,
        length: table.required("length", 0.1..=10_000.0)? as f32,
        period: table.required("period", 0.1..=600.0)? as f32,
        since: table.number("since", -3600.0..=3600.0)?.unwrap_or(0.0),
    };
    table.finish()?;
    Ok(swell)
}

fn vector(numbers: [f64; 3]) -> DVec3 {
    DVec3::from_array(numbers)
}

/// The hold by its word.
pub(super) fn read_hold(table: &Table<'_>) -> Result<Option<Hold>, FileError> {
    Ok(table.word("hold", &["none", "wall", "ladder", "pole"])?.map(|word| match word {
        "wall" => Hold::Wall,
        "ladder" => Hold::Ladder,
        "pole" => Hold::Pole,
        _ => Hold::None,
    }))
}
