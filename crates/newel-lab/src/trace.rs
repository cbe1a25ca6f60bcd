//! The time series of a run.

use newel::glam::{DVec3, Vec3};
use newel::{Buttons, Character, Event, EventKind, Mode, Modifiers, Phase, Readout, Shape, Stance, Support, Tuning};
use serde::Serialize;

use crate::audit::Finding;
use crate::course::{BUTTONS, Planned, Told};
use crate::names::{event_name, mode_name};

/// Every tick of a run, and what happened in it.
#[derive(Debug, Clone, PartialEq)]
pub struct Trace {
    /// The course's title.
    pub title: String,
    /// Ticks a second.
    pub rate: f64,
    /// One row for the start, then one a tick.
    pub rows: Vec<Row>,
    /// All events, in order.
    pub events: Vec<Event>,
    /// The hash of the state at the end.
    pub hash: u64,
    /// The hash of everything that was wanted of it and done to it: intents, commands and modifiers, tick by tick.
    pub inputs: u64,
    /// The bottom of the terrain, metres.
    pub bottom: f64,
    /// Reports of its drivers, in order.
    pub told: Vec<Told>,
    /// The routes that were planned.
    pub planned: Vec<Planned>,
    /// Names of the course's sensors, from number 1 on.
    pub sensors: Vec<String>,
    /// Findings of the audits, in order of time.
    pub findings: Vec<Finding>,
}

/// How things stood at one moment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Row {
    /// The tick's number, from 1; 0 is the start.
    pub tick: u64,
    /// The character's clock, seconds.
    pub time: f64,
    /// The feet, metres.
    pub position: DVec3,
    /// Metres per second.
    pub velocity: DVec3,
    /// Where the body looks, unit.
    pub facing: Vec3,
    /// What moves it.
    pub mode: Mode,
    /// Phase of the mode.
    pub phase: Phase,
    /// The buttons held at its end.
    pub held: Buttons,
    /// Seconds in which lost ground can still be jumped from.
    pub coyote: f32,
    /// Seconds in which a press that came too early still jumps.
    pub buffer: f32,
    /// Seconds until the next dash.
    pub cooldown: f32,
    /// True in a sprint.
    pub sprinting: bool,
    /// Why the ground carries or does not, in words.
    pub support: &'static str,
    /// The number of the surface stood on or slid along, if there is one.
    pub surface: Option<u16>,
    /// Speed along the ground, or across in the air, m/s.
    pub speed: f64,
    /// Speed along up, m/s.
    pub rise: f64,
    /// The angle from the facing to the motion, degrees to the left.
    pub angle: f64,
    /// How fast the body turned, degrees per second to the left.
    pub turn_rate: f64,
    /// Product of all factors on the top speed.
    pub speed_factor: f64,
    /// Modifiers of that tick.
    pub modifiers: Modifiers,
    /// Stance.
    pub stance: Stance,
    /// How high over the feet its eyes are drawn, metres.
    pub eyes: f64,
    /// Its shape as it is to be drawn.
    pub drawn: Shape,
    /// Where its feet are drawn, metres: its position, but while it is not upright.
    pub feet: DVec3,
    /// Unit vector from its feet to its head.
    pub axis: Vec3,
    /// Unit vector against gravity.
    pub up: Vec3,
    /// How deep the tuned surface is in the terrain, metres.
    pub depth: f64,
    /// How deep under that surface the skin reaches, metres.
    pub skin: f64,
}

impl Row {
    pub(crate) fn first(hero: &Character, tuning: &Tuning, depth: f64) -> Row {
        let shape = tuning.shape_in(hero.stance);
        Row {
            tick: 0,
            time: hero.clock,
            position: hero.position,
            velocity: hero.velocity,
            facing: hero.facing,
            mode: hero.mode,
            phase: hero.phase,
            held: hero.held,
            coyote: hero.coyote.max(0.0),
            buffer: hero.buffer,
            cooldown: hero.cooldown,
            sprinting: hero.marks.sprinting(),
            support: hero.ground.support.words(),
            surface: (!matches!(hero.ground.support, Support::None | Support::Water)).then_some(hero.ground.surface),
            speed: 0.0,
            rise: 0.0,
            angle: 0.0,
            turn_rate: 0.0,
            speed_factor: 1.0,
            modifiers: Modifiers::default(),
            stance: hero.stance,
            eyes: f64::from(hero.eyes),
            drawn: shape,
            feet: hero.feet(tuning),
            axis: hero.axis,
            up: hero.up,
            depth,
            skin: f64::from(shape.skin()),
        }
    }

    pub(crate) fn after(tick: u64, hero: &Character, tuning: &Tuning, readout: &Readout, depth: f64) -> Row {
        let (speed, rise) = (f64::from(readout.speed), f64::from(readout.rise));
        let (angle, turn_rate) = (f64::from(readout.angle), f64::from(readout.turn_rate));
        let speed_factor = f64::from(readout.speed_factors.product());
        let drawn = readout.drawn;
        Row { tick, speed, rise, angle, turn_rate, speed_factor, drawn, ..Row::first(hero, tuning, depth) }
    }
}

/// A row as files hold it, flat.
#[derive(Serialize)]
struct FlatRow<'a> {
    tick: u64,
    time_s: f64,
    x_m: f64,
    y_m: f64,
    z_m: f64,
    vx_m_s: f64,
    vy_m_s: f64,
    vz_m_s: f64,
    speed_m_s: f64,
    rise_m_s: f64,
    angle_deg: f64,
    turn_deg_s: f64,
    speed_factor: f64,
    mode: &'a str,
    phase: &'a str,
    stance: &'a str,
    eyes_m: f64,
    held: String,
    modifiers: String,
    support: &'a str,
    surface: &'a str,
    depth_m: f64,
    events: String,
}

/// This far below the lowest terrain, metres, it has fallen out of the world.
const OUT_OF_THE_WORLD: f64 = 5.0;

impl Trace {
    /// Name of a sensor.
    pub(crate) fn sensor(&self, number: u64) -> String {
        let name = usize::try_from(number).ok().and_then(|n| self.sensors.get(n.checked_sub(1)?));
        name.cloned().unwrap_or_else(|| format!("sensor {number}"))
    }

    /// How many events of this name there are.
    pub fn count(&self, name: &str) -> usize {
        self.events.iter().filter(|e| event_name(&e.kind) == name).count()
    }

    /// The numbers of the ticks in which it was put elsewhere, in order: between the row before and theirs there is no way.
    pub(crate) fn ticks_put(&self) -> Vec<u64> {
        let put = self.events.iter().filter(|e| e.kind == EventKind::Teleported);
        put.map(|e| (e.time * self.rate).round() as u64 + 1).collect()
    }

    /// True where it has fallen out of the world.
    pub(crate) fn is_out(&self, row: &Row) -> bool {
        row.position.y < self.bottom - OUT_OF_THE_WORLD
    }

    /// When it fell out of the world, seconds, if it did.
    #[must_use]
    pub fn fell_out(&self) -> Option<f64> {
        self.rows.iter().find(|row| self.is_out(row)).map(|row| row.time)
    }

    /// The row at `time` seconds, or the nearest before it.
    pub fn at(&self, time: f64) -> &Row {
        let index = (time * self.rate).round().max(0.0) as usize;
        &self.rows[index.min(self.rows.len() - 1)]
    }

    fn flat_rows<'a>(&'a self, surfaces: &'a [String]) -> impl Iterator<Item = FlatRow<'a>> {
        let mut next = 0;
        self.rows.iter().map(move |row| {
            let from = next;
            while self.events.get(next).is_some_and(|e| e.time <= row.time + 1e-12) {
                next += 1;
            }
            let names = self.events[from..next]
                .iter()
                .map(|e| format!("{}@{}", event_name(&e.kind), to_the_nanosecond(e.time)));
            FlatRow {
                tick: row.tick,
                time_s: row.time,
                x_m: row.position.x,
                y_m: row.position.y,
                z_m: row.position.z,
                vx_m_s: row.velocity.x,
                vy_m_s: row.velocity.y,
                vz_m_s: row.velocity.z,
                speed_m_s: row.speed,
                rise_m_s: row.rise,
                angle_deg: row.angle,
                turn_deg_s: row.turn_rate,
                speed_factor: row.speed_factor,
                mode: mode_name(row.mode),
                phase: row.phase.words(),
                stance: row.stance.words(),
                eyes_m: row.eyes,
                held: held_words(row.held),
                modifiers: modifiers_words(&row.modifiers),
                support: row.support,
                surface: row.surface.and_then(|n| surfaces.get(usize::from(n))).map_or("", String::as_str),
                depth_m: row.depth,
                events: names.collect::<Vec<_>>().join(" "),
            }
        })
    }

    /// The trace as CSV, one line a tick, with units in the column names.
    ///
    /// # Errors
    /// Only where the writer fails.
    pub fn to_csv(&self, surfaces: &[String]) -> Result<Vec<u8>, csv::Error> {
        let mut writer = csv::Writer::from_writer(Vec::new());
        self.flat_rows(surfaces).try_for_each(|row| writer.serialize(row))?;
        writer.into_inner().map_err(|e| e.into_error().into())
    }

    /// The trace as JSON Lines, one object a tick.
    ///
    /// # Errors
    /// Only where serialising fails, which finite numbers never do.
    pub fn to_json_lines(&self, surfaces: &[String]) -> Result<Vec<u8>, serde_json::Error> {
        let mut bytes = Vec::new();
        for row in self.flat_rows(surfaces) {
            serde_json::to_writer(&mut bytes, &row)?;
            bytes.push(b'\n');
        }
        Ok(bytes)
    }
}

/// The buttons held, by the names that scripts use.
fn held_words(held: Buttons) -> String {
    let down = BUTTONS.iter().filter(|(_, button)| held.has(*button));
    down.map(|(name, _)| *name).collect::<Vec<_>>().join(" ")
}

/// Modifiers, as scripts write them; nothing where it changed nothing.
fn modifiers_words(modifiers: &Modifiers) -> String {
    let Modifiers { speed, acceleration, jump_height, gravity, .. } = *modifiers;
    let factors =
        [("speed", speed), ("acceleration", acceleration), ("jump_height", jump_height), ("gravity", gravity)];
    let changed =
        factors.into_iter().filter(|(_, factor)| *factor != 1.0).map(|(name, factor)| format!("{name}={factor}"));
    let abilities = [
        ("can_jump", modifiers.can_jump),
        ("can_sprint", modifiers.can_sprint),
        ("can_use_walls", modifiers.can_use_walls),
        ("can_dash", modifiers.can_dash),
        ("can_crouch", modifiers.can_crouch),
        ("can_slide", modifiers.can_slide),
        ("can_hover", modifiers.can_hover),
        ("can_climb", modifiers.can_climb),
        ("can_use_ledges", modifiers.can_use_ledges),
        ("can_swim", modifiers.can_swim),
    ];
    let barred = abilities.into_iter().filter(|(_, can)| !can).map(|(name, _)| format!("{name}=false"));
    changed.chain(barred).collect::<Vec<_>>().join(" ")
}

/// A time as short as it can be told to the nanosecond.
fn to_the_nanosecond(time: f64) -> f64 {
    (time * 1e9).round() / 1e9
}
