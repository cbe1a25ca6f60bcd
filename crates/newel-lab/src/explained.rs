//! One tick of a run, told in words: what it saw, what it tried, and why it did what it did.

use std::fmt::{self, Display, Formatter};

use newel::glam::{DVec3, Vec3};
use newel::{
    Character, Event, EventKind, Intent, Mode, Note, Seen, SeenContact, StepResult, Support, TickError, Workspace,
};

use crate::course::{Course, Scene};
use crate::names::{event_name, mode_name, refusal_words};
use crate::run::Playing;

/// One tick of a course, with everything it told.
#[derive(Debug, Clone)]
pub struct Explained<'a> {
    /// The course.
    pub course: &'a Course,
    /// The tick's number, from 1, as traces count them.
    pub tick: u64,
    /// The character before it.
    pub before: Character,
    /// The character after it.
    pub after: Character,
    /// The intent of the tick.
    pub intent: Intent,
    /// Observations in order.
    pub notes: Vec<Note>,
    /// Events of the tick.
    pub events: Vec<Event>,
}

/// Plays a course up to a tick, numbered from 1 as in traces, and has that tick explained.
///
/// # Errors
/// [`TickError`] where a scripted command is refused, or the course has no such tick.
pub fn explain(course: &Course, tick: u64) -> Result<Explained<'_>, TickError> {
    let mut playing = Playing::begin(course)?;
    let ticks = playing.ticks();
    if !(1..=ticks).contains(&tick) {
        let (value, most) = (tick as f64, ticks as f64);
        return Err(TickError::OutOfRange { field: "tick", value, least: 1.0, most });
    }
    let mut work = Workspace::new();
    while playing.number + 1 < tick {
        let (intent, commands) = playing.wanted();
        let (tick, hero) = playing.tick();
        let last = tick.step(&mut work, hero, &intent, &commands)?.readout;
        playing.drivers.last = Some(last);
    }
    let (intent, commands) = playing.wanted();
    let before = playing.hero.clone();
    let mut notes = Vec::new();
    let (made, hero) = playing.tick();
    let events = made.explain(&mut work, hero, &intent, &commands, &mut notes)?.events.to_vec();
    Ok(Explained { course, tick, before, after: playing.hero, intent, notes, events })
}

/// A direction or velocity with two digits.
struct Short(DVec3);

impl Display for Short {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        // Minus nothing is nothing.
        let [x, y, z] = self.0.to_array().map(|v| if v.abs() < 0.005 { 0.0 } else { v });
        write!(f, "({x:.2}, {y:.2}, {z:.2})")
    }
}

fn degrees_from(up: Vec3, normal: Vec3) -> f64 {
    f64::from(up.dot(normal).clamp(-1.0, 1.0)).acos().to_degrees()
}

impl Explained<'_> {
    /// Seconds of the course at which the tick begins.
    #[must_use]
    pub fn start(&self) -> f64 {
        (self.tick - 1) as f64 / self.course.rate
    }

    /// The ground at the tick's end, in a few words.
    #[must_use]
    pub fn ground_words(&self) -> String {
        let ground = &self.after.ground;
        if ground.support == Support::None {
            return ground.support.words().to_owned();
        }
        let slope = degrees_from(self.after.up, ground.normal);
        if ground.support == Support::Water {
            let depth = ground.touch.dot(self.after.up);
            return format!("in water, {depth:.2} m deep, its surface {slope:.1}° steep");
        }
        let on = if ground.support == Support::Held { "" } else { " on" };
        format!("{}{on} {}, {slope:.1}° steep", ground.support.words(), self.course.scene.surface(ground.surface))
    }

    /// The notes and events in words, a line each, with how long into the tick each was, milliseconds.
    #[must_use]
    pub fn lines(&self) -> Vec<(f64, String)> {
        let words = Words { scene: &self.course.scene, up: self.before.up };
        let noted = self.notes.iter().filter_map(|note| Some((note.time * 1e3, words.of(note)?)));
        let happened = self.events.iter().map(|event| {
            let name = match event.kind {
                EventKind::Refused { ability, why } => format!("refused: {}", refusal_words(ability, why)),
                kind => event_name(&kind).replace('_', " "),
            };
            ((event.time - self.before.clock) * 1e3, format!("event: {name}"))
        });
        let mut lines: Vec<(f64, String)> = noted.chain(happened).collect();
        // To the nanosecond, so that an event comes right after what was seen as it happened.
        lines.sort_by_key(|line| (line.0 * 1e6).round() as i64);
        lines
    }
}

impl Display for Explained<'_> {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let (start, dt) = (self.start(), 1.0 / self.course.rate);
        writeln!(f, "{}, tick {}: {start:.4} s to {:.4} s", self.course.title, self.tick, start + dt)?;
        let (before, after) = (&self.before, &self.after);
        let wish = self.intent.wish(before, &self.course.tuning).as_dvec3();
        writeln!(
            f,
            "  from   {}, {}, {:.3} m/s {}",
            at(before.position),
            mode_name(before.mode),
            before.velocity.length(),
            Short(before.velocity)
        )?;
        if wish == DVec3::ZERO {
            writeln!(f, "  wants  to stand still")?;
        } else {
            writeln!(f, "  wants  {:.0} % of top speed along {}", wish.length() * 100.0, Short(wish / wish.length()))?;
        }
        for (time, line) in self.lines() {
            writeln!(f, "{time:>8.3} ms  {line}")?;
        }
        let way = (after.position - before.position).length() * 1e3;
        write!(
            f,
            "  ends   {}, {}, {:.3} m/s, {way:.2} mm on; {}",
            at(after.position),
            mode_name(after.mode),
            after.velocity.length(),
            self.ground_words()
        )
    }
}

fn at(place: DVec3) -> String {
    format!("({:.4}, {:.4}, {:.4})", place.x, place.y, place.z)
}

/// Notes in words, for one course.
struct Words<'a> {
    scene: &'a Scene,
    up: Vec3,
}

impl Words<'_> {
    /// A note in words; what only repeats is left out.
    fn of(&self, note: &Note) -> Option<String> {
        Some(match &note.seen {
            Seen::Gathered { low, high, facets, rounds } => {
                let size = *high - *low;
                let rounds = if *rounds > 0 { format!(" and {rounds} rounds") } else { String::new() };
                format!("gathered {} facets{rounds} in {:.2} x {:.2} x {:.2} m", facets.len(), size.x, size.y, size.z)
            }
            Seen::Piece { mode, velocity, ground, span } => {
                let footing = match mode {
                    Mode::Air if ground.support == Support::None => "in the air".to_owned(),
                    Mode::Air => format!("in the air, {}", ground.support.words()),
                    Mode::Hover => "hovering".to_owned(),
                    Mode::Climb => "climbing".to_owned(),
                    Mode::Ledge => "at a ledge".to_owned(),
                    Mode::Swim => {
                        let depth = (ground.point - note.place).dot(self.up.as_dvec3());
                        format!("swimming, {depth:.2} m deep")
                    }
                    Mode::Custom => "in the game's own mode".to_owned(),
                    Mode::Slide => format!("sliding, {}", ground.support.words()),
                    _ => format!("on the ground, {}", ground.support.words()),
                };
                format!("{footing}: {:.3} m/s {}, {:.3} ms to go", velocity.length(), Short(*velocity), span * 1e3)
            }
            Seen::Moved { from, used, of, stopped } => {
                let way = (note.place - *from).length() * 1e3;
                let stop = stopped
                    .as_ref()
                    .map_or("nothing in the way".to_owned(), |c| format!("stopped by {}", self.contact(c)));
                format!("  moved {way:.2} mm in {:.3} of {:.3} ms: {stop}", used * 1e3, of * 1e3)
            }
            Seen::Probed { way, part, stopped } => {
                let stop = stopped.as_ref().map_or("free".to_owned(), |c| format!("met {}", self.contact(c)));
                let way = way.as_dvec3();
                format!(
                    "    tried {} of {:.1} mm along {}: {stop}",
                    percent(*part),
                    way.length() * 1e3,
                    Short(way / way.length().max(1e-12))
                )
            }
            Seen::Judged { contacts, ground } => self.judged(contacts, ground.support),
            Seen::Pressed { planes, wanted, left } => {
                let sides: Vec<String> = planes.iter().map(|(n, speed)| plane(*n, *speed)).collect();
                format!("  pressed against {}: {} leaves {}", sides.join(" and "), Short(*wanted), Short(*left))
            }
            Seen::Step { met, height, result } => {
                let most = match result {
                    StepResult::TooHigh { most } => format!(", at most {:.1} mm", most * 1e3),
                    _ => String::new(),
                };
                format!("  step of {:.1} mm at {}: {}{most}", height * 1e3, self.contact(met), result.words())
            }
            _ => return None,
        })
    }

    fn judged(&self, contacts: &[(SeenContact, Option<Support>)], support: Support) -> String {
        if contacts.is_empty() {
            return format!("    ground? touches nothing: {}", support.words());
        }
        let each = contacts.iter().map(|(contact, support)| {
            let verdict = support.map_or("no footing", Support::words);
            format!("{} is {verdict}", self.contact(contact))
        });
        format!("    ground? {}: {}", each.collect::<Vec<_>>().join("; "), support.words())
    }

    fn contact(&self, contact: &SeenContact) -> String {
        let what = if contact.round { "round" } else { "facet" };
        let body = if contact.body == 0 { String::new() } else { format!(" of body {}", contact.body) };
        let part = if contact.edge { ", edge" } else { "" };
        let steep = degrees_from(self.up, contact.normal);
        let surface = self.scene.surface(contact.surface);
        // Nothing is no gap, whatever its sign.
        let gap = if contact.gap.abs() < 5e-7 { 0.0 } else { contact.gap * 1e3 };
        format!("{what} {}{body} ({surface}{part}, {steep:.0}°, gap {gap:.3} mm)", contact.id)
    }
}

fn percent(part: f32) -> String {
    format!("{:.0} %", part * 100.0)
}

fn plane(normal: DVec3, speed: f64) -> String {
    let coming = if speed == 0.0 { String::new() } else { format!(" coming at {speed:.2} m/s") };
    format!("{}{coming}", Short(normal))
}
