//! The course file: the top table and what is in it.

use std::path::PathBuf;

use newel::glam::{DQuat, DVec3};
use newel::{Character, Footing, Hold, Mesh, MeshError, Solid, Spawn, SpawnError, Tuning};

use super::solids::{Soup, pivot_of, read_solid};
use super::tracks::read_track;
use super::tuning_file::tuning_of;
use super::{Course, Scene, drivers, expect, script, zones};
use crate::error::FileError;
use crate::reader::{Source, Table};

/// The longest course, seconds: an hour.
const LONGEST: f64 = 3600.0;

pub(super) fn read(source: &Source, file: PathBuf) -> Result<Course, FileError> {
    let root = source.root();
    let title = root.text("title")?.map_or_else(|| stem(&file), str::to_owned);
    let rate = root.number("rate", 4.0..=10_000.0)?.unwrap_or(60.0);
    let duration = root
        .number("duration", 0.0..=LONGEST)?
        .ok_or_else(|| root.error("`duration` is missing: how many seconds the course runs"))?;
    if duration == 0.0 {
        return Err(root.field_error("duration", "0 is no time: how many seconds the course runs, more than 0"));
    }
    let sea_level = root.number("sea_level", -1e5..=1e5)?;
    let mut scene = read_scene(&root)?;
    if let Some(level) = sea_level {
        scene.solids = scene.solids.with_zone(zones::sea(level));
    }
    let tuning = match root.table("tuning")? {
        Some(table) => tuning_of(&table)?,
        None => Tuning::walker(),
    };
    let spawn = read_spawn(&root, &scene, &tuning)?;
    scene.bounds = drivers::read_bounds(&root)?;
    let targets = drivers::read_targets(&root)?;
    let script = script::read(&root, duration)?;
    let expectations = expect::read(&root, duration)?;
    root.finish()?;
    Ok(Course { file, title, scene, spawn, tuning, rate, duration, script, expectations, sea_level, targets })
}

fn stem(file: &std::path::Path) -> String {
    file.file_stem().map_or_else(|| "course".to_owned(), |s| s.to_string_lossy().into_owned())
}

fn read_scene(root: &Table<'_>) -> Result<Scene, FileError> {
    let tables = root.tables("terrain")?;
    if tables.is_empty() {
        return Err(root.error("there is no terrain: at least one [[terrain]] is needed"));
    }
    let mut still = Soup::default();
    let mut solids = newel::Scene::new();
    for (number, table) in tables.iter().enumerate() {
        let pivot = pivot_of(table)?;
        let (track, belt) = (read_track(table, pivot)?, table.numbers::<3>("belt")?);
        if track.is_none() && belt.is_none() {
            read_solid(table, &mut still)?;
            continue;
        }
        // A moving part is a mesh of its own, about its own `at`; surfaces are numbered through.
        let mut moving = still.for_moving();
        read_solid(table, &mut moving)?;
        moving.corners.iter_mut().for_each(|corner| *corner -= pivot);
        let mesh = mesh_of(&moving).map_err(|e| table.error(e.to_string()))?;
        still.take_names(moving);
        let solid = Solid::mesh(mesh).with_belt(DVec3::from_array(belt.unwrap_or_default()));
        let id = number as u64 + 1;
        let added = solids.add(id, solid, pivot, DQuat::IDENTITY).and_then(|()| match track {
            Some(track) => solids.follow(id, track),
            None => Ok(()),
        });
        added.map_err(|e| table.error(e.to_string()))?;
    }
    if !still.indices.is_empty() {
        solids = solids.with(mesh_of(&still).map_err(|e| root.error(format!("the terrain as a whole: {e}")))?);
    }
    for surface in still.one_way.drain(..) {
        solids = solids.with_one_way(surface);
    }
    for table in root.tables("surface")? {
        let (surface, footing, hold, one_way) = read_surface(&table, &still.names)?;
        solids = solids.with_footing(surface, footing).with_hold(surface, hold);
        if one_way {
            solids = solids.with_one_way(surface);
        }
    }
    let mut sensors = Vec::new();
    for (number, table) in root.tables("sensor")?.iter().enumerate() {
        let (name, body, sensor) = zones::read_sensor(table, number, tables.len())?;
        sensors.push(name);
        solids.add_sensor(body, sensor);
    }
    for (number, table) in root.tables("zone")?.iter().enumerate() {
        let (zone, on) = zones::read_zone(table, number)?;
        solids = match on {
            None => {
                solids.add_zone(zone).map_err(|e| table.error(e.to_string()))?;
                solids
            }
            Some(moving) if (1..=tables.len() as u64).contains(&moving) => solids.with_zone_on(moving, zone),
            Some(moving) => {
                let there = tables.len();
                let message = format!("there is no terrain {moving}: the terrain it moves with is one of 1 to {there}");
                return Err(table.field_error("on", message));
            }
        };
    }
    Ok(Scene { solids, surfaces: still.names, colours: still.colours, sensors, bounds: None })
}

fn mesh_of(soup: &Soup) -> Result<Mesh, MeshError> {
    Mesh::new(&soup.corners, &soup.indices).and_then(|mesh| mesh.with_surfaces(&soup.surfaces))
}

fn read_surface(table: &Table<'_>, names: &[String]) -> Result<(u16, Footing, Hold, bool), FileError> {
    let name = table.text("name")?.ok_or_else(|| table.error("`name` is missing: which surface this is"))?;
    let Some(number) = names.iter().position(|known| known == name) else {
        let known = names.iter().filter(|n| !n.is_empty()).cloned().collect::<Vec<_>>().join(", ");
        return Err(table.field_error("name", format!("nothing here is made of `{name}`; there is {known}")));
    };
    let factor = |field| Ok::<_, FileError>(table.number(field, 0.0..=10.0)?.unwrap_or(1.0) as f32);
    let footing = Footing { grip: factor("grip")?, speed: factor("speed")? };
    let hold = zones::read_hold(table)?.unwrap_or_default();
    let one_way = table.flag("one_way")?.unwrap_or(false);
    table.finish()?;
    Ok((number as u16, footing, hold, one_way))
}

fn read_spawn(root: &Table<'_>, scene: &Scene, tuning: &Tuning) -> Result<Spawn, FileError> {
    let table = root.table("spawn")?.ok_or_else(|| root.error("`[spawn]` is missing: where the character starts"))?;
    let mut spawn = Spawn::at(DVec3::from_array(table.required_numbers::<3>("position")?));
    if let Some(up) = table.numbers::<3>("up")? {
        spawn = spawn.up(DVec3::from_array(up).as_vec3());
    }
    if let Some(facing) = table.numbers::<3>("facing")? {
        spawn = spawn.facing(DVec3::from_array(facing).as_vec3());
    }
    if let Some(normal) = table.numbers::<3>("plane")? {
        spawn = spawn.in_plane(DVec3::from_array(normal).as_vec3());
    }
    if let Some(stance) = script::read_stance(&table)? {
        spawn = spawn.in_stance(stance);
    }
    if let Some(pull) = table.numbers::<3>("gravity")? {
        spawn = spawn.pulled(DVec3::from_array(pull).as_vec3());
    }
    spawn.clings = table.flag("clings")?.unwrap_or(false);
    table.finish()?;
    match Character::spawn(scene, tuning, spawn) {
        Ok(_) => Ok(spawn),
        Err(error @ (SpawnError::NoPlane | SpawnError::PlaneAskew { .. })) => {
            Err(table.field_error("plane", error.to_string()))
        }
        Err(error) => Err(table.field_error("position", error.to_string())),
    }
}
