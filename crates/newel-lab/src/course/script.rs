//! The script of a player: changes of intent on a time line in seconds, at any instant.

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{Axes, Button, Change, Command, Face, Heading, Intent, Launch, Modifiers, Stance, Timed};

use super::drivers::{Drive, read_drives};
use crate::error::FileError;
use crate::reader::Table;

/// Buttons by the names that scripts use.
pub(crate) const BUTTONS: [(&str, Button); 7] = [
    ("jump", Button::Jump),
    ("sprint", Button::Sprint),
    ("dash", Button::Dash),
    ("slide", Button::Slide),
    ("hover", Button::Hover),
    ("grab", Button::Grab),
    ("drop", Button::Drop),
];
/// How long a tap holds a button down, seconds.
const TAP: f64 = 0.1;

/// A script: moments in order.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Script {
    /// The moments, in order of time.
    pub moments: Vec<Moment>,
}

/// Changes at one instant.
#[derive(Debug, Clone, PartialEq)]
pub struct Moment {
    /// When, seconds from the start.
    pub at: f64,
    /// What.
    pub step: Step,
}

/// One change.
#[derive(Debug, Clone, PartialEq)]
pub enum Step {
    /// A heading from now on.
    Heading(Heading),
    /// A view from now on.
    View(Vec3),
    /// Something to turn toward from now on.
    Face(Face),
    /// A button goes down or up.
    Button(Button, bool),
    /// Another shape to have from now on.
    Stance(Stance),
    /// It never walks off an edge, or does, from the tick on that this falls into.
    Guard(bool),
    /// The game does something to the character, at the start of the tick that this falls into.
    Command(Command),
    /// The game changes something for now, from the tick on that this falls into.
    Modifiers(Modifiers),
    /// Something is asked of the drivers, at the start of the tick that this falls into.
    Drive(Drive),
}

/// Plays a script to a character, tick by tick.
pub(crate) struct Player<'a> {
    script: &'a Script,
    next: usize,
    intent: Intent,
    /// Modifiers in effect.
    pub modifiers: Modifiers,
    /// Requests to the drivers in the last tick, and the view at that moment.
    pub drives: Vec<(Drive, Vec3)>,
}

impl<'a> Player<'a> {
    pub fn new(script: &'a Script) -> Player<'a> {
        Player { script, next: 0, intent: Intent::default(), modifiers: Modifiers::default(), drives: Vec::new() }
    }

    /// The intent and the commands for the tick from `start` on, `dt` long. A change at the tick's end belongs to the next tick.
    pub fn take(&mut self, start: f64, dt: f64) -> (Intent, Vec<Command>) {
        let mut commands = Vec::new();
        self.drives.clear();
        let mut intent = self.intent;
        while let Some(moment) = self.script.moments.get(self.next).filter(|m| m.at < start + dt - 1e-9) {
            let at = (moment.at - start).clamp(0.0, dt);
            let Some(change) = self.change(&moment.step, &mut commands) else {
                self.next += 1;
                continue;
            };
            let timed = Timed { at, change };
            match intent.then(timed) {
                Some(more) => intent = more,
                None => commands.push(Command::Change(timed)),
            }
            self.next += 1;
        }
        (intent, commands)
    }

    fn change(&mut self, step: &Step, commands: &mut Vec<Command>) -> Option<Change> {
        match step {
            Step::Command(command) => {
                commands.push(*command);
                None
            }
            Step::Guard(guard) => {
                self.intent.guard = *guard;
                Some(Change::Guard(*guard))
            }
            Step::Drive(drive) => {
                self.drives.push((*drive, self.intent.view));
                None
            }
            Step::Modifiers(modifiers) => {
                self.modifiers = *modifiers;
                None
            }
            Step::Face(face) => {
                self.intent.face = *face;
                Some(Change::Face(*face))
            }
            Step::Heading(heading) => {
                self.intent.heading = *heading;
                Some(Change::Heading(*heading))
            }
            Step::View(view) => {
                self.intent.view = *view;
                Some(Change::View(*view))
            }
            Step::Button(button, down) => {
                self.intent.buttons = self.intent.buttons.with(*button, *down);
                Some(Change::Button(*button, *down))
            }
            Step::Stance(stance) => {
                self.intent.stance = *stance;
                Some(Change::Stance(*stance))
            }
        }
    }
}

pub(super) fn read(root: &Table<'_>, duration: f64) -> Result<Script, FileError> {
    let mut moments: Vec<Moment> = Vec::new();
    let mut last = 0.0;
    root.each_table("script", |table| {
        let at = table.required("at", 0.0..=duration)?;
        if at < last {
            let message =
                format!("{at} s is before {last} s, the time of the moment above: a script goes forward in time");
            return Err(table.field_error("at", message));
        }
        last = at;
        read_moment(table, at, &mut moments)?;
        table.finish()
    })?;
    moments.sort_by(|a, b| a.at.total_cmp(&b.at));
    Ok(Script { moments })
}

fn read_moment(table: &Table<'_>, at: f64, moments: &mut Vec<Moment>) -> Result<(), FileError> {
    let before = moments.len();
    let mut add = |at: f64, step: Step| moments.push(Moment { at, step });
    if let Some(view) = table.numbers::<3>("view")? {
        add(at, Step::View(DVec3::from_array(view).as_vec3()));
    }
    if let Some(step) = read_heading(table)? {
        add(at, step);
    }
    if let Some(face) = read_face(table)? {
        add(at, Step::Face(face));
    }
    if let Some(inner) = table.table("modifiers")? {
        add(at, Step::Modifiers(read_modifiers(&inner)?));
    }
    let names = BUTTONS.map(|b| b.0);
    let button = |name: &str| BUTTONS.iter().find(|b| b.0 == name).map(|b| b.1);
    for (field, down) in [("press", true), ("release", false)] {
        for name in table.words(field, &names)? {
            button(name).into_iter().for_each(|b| add(at, Step::Button(b, down)));
        }
    }
    for name in table.words("tap", &names)? {
        if let Some(b) = button(name) {
            add(at, Step::Button(b, true));
            add(at + TAP, Step::Button(b, false));
        }
    }
    if let Some(stance) = read_stance(table)? {
        add(at, Step::Stance(stance));
    }
    if let Some(guard) = table.flag("guard")? {
        add(at, Step::Guard(guard));
    }
    for drive in read_drives(table)? {
        add(at, Step::Drive(drive));
    }
    if let Some(to) = table.numbers::<3>("teleport")? {
        add(at, Step::Command(Command::Teleport { to: DVec3::from_array(to), facing: None }));
    }
    if let Some(by) = table.numbers::<3>("displace")? {
        add(at, Step::Command(Command::Displace { by: DVec3::from_array(by) }));
    }
    if let Some(by) = table.numbers::<3>("grid_step")? {
        add(at, Step::Command(Command::GridStep { by: DVec3::from_array(by) }));
    }
    if let Some(launch) = read_launch(table)? {
        add(at, Step::Command(launch.into()));
    }
    if let Some(pull) = table.numbers::<3>("gravity")? {
        add(at, Step::Command(Command::Gravity { pull: DVec3::from_array(pull).as_vec3() }));
    }
    if table.flag("flip_gravity")? == Some(true) {
        add(at, Step::Command(Command::FlipGravity));
    }
    if let Some(on) = table.flag("cling")? {
        add(at, Step::Command(Command::Cling(on)));
    }
    if let Some(normal) = table.numbers::<3>("plane")? {
        add(at, Step::Command(Command::Plane { normal: DVec3::from_array(normal).as_vec3() }));
    }
    if moments.len() == before {
        table.finish()?;
        return Err(table.error("nothing happens at this moment: give heading, stick, toward, go, lock, patrol, free, view, face, press, release, tap, stance, guard, modifiers, teleport, displace, grid_step, launch, gravity, flip_gravity, cling or plane"));
    }
    Ok(())
}

/// The throw that a table describes.
pub(super) fn read_launch(table: &Table<'_>) -> Result<Option<Launch>, FileError> {
    let Some(velocity) = table.numbers::<3>("launch")? else { return Ok(None) };
    let axes = match table.word("along", &["world", "facing", "gravity"])? {
        Some("facing") => Axes::Facing,
        Some("gravity") => Axes::Gravity,
        _ => Axes::World,
    };
    let launch = Launch::at(DVec3::from_array(velocity)).along(axes);
    let launch = if table.flag("add")? == Some(true) { launch.added() } else { launch };
    let only = table.words("add_along", &["x", "y", "z"])?;
    let adds = ["x", "y", "z"].map(|axis| only.contains(&axis));
    let launch = if only.is_empty() { launch } else { Launch { adds, ..launch } };
    let launch = if table.flag("until_wall")? == Some(true) { launch.until_wall() } else { launch };
    let control = table.number("control", 0.0..=1.0)?.unwrap_or(1.0) as f32;
    let lasts = table.number("lasts", 0.0..=3600.0)?.unwrap_or(0.0) as f32;
    Ok(Some(launch.steered(control, lasts)))
}

/// The stance that a table names.
pub(super) fn read_stance(table: &Table<'_>) -> Result<Option<Stance>, FileError> {
    let word = table.word("stance", &Stance::ALL.map(Stance::words))?;
    Ok(word.and_then(|word| Stance::ALL.into_iter().find(|stance| stance.words() == word)))
}

/// The ways of saying where to go.
const WAYS: [&str; 7] = ["heading", "stick", "body", "turn_and_go", "screen", "surface", "toward"];

/// A way of reading a stick, by its name in a script.
type Named = (&'static str, fn(Vec2) -> Heading);

fn read_heading(table: &Table<'_>) -> Result<Option<Step>, FileError> {
    let given: Vec<_> = WAYS.into_iter().filter(|way| table.has(way)).collect();
    if let [_, second, ..] = given[..] {
        return Err(table.field_error(second, format!("one moment has one of {}", WAYS.join(", "))));
    }
    let vector = |v: [f64; 3]| DVec3::from_array(v);
    if let Some(heading) = table.numbers::<3>("heading")? {
        return Ok(Some(Step::Heading(Heading::World(vector(heading).as_vec3()))));
    }
    if let Some(goal) = table.numbers::<3>("toward")? {
        return Ok(Some(Step::Heading(Heading::To { place: vector(goal), speed: 1.0 })));
    }
    let sticks: [Named; 5] = [
        ("stick", Heading::View),
        ("body", Heading::Body),
        ("turn_and_go", Heading::TurnAndGo),
        ("screen", Heading::Plane),
        ("surface", Heading::Surface),
    ];
    for (name, heading) in sticks {
        if let Some([right, ahead]) = table.numbers::<2>(name)? {
            return Ok(Some(Step::Heading(heading(Vec2::new(right as f32, ahead as f32)))));
        }
    }
    Ok(None)
}

/// Target of the facing: a word, or a place.
fn read_face(table: &Table<'_>) -> Result<Option<Face>, FileError> {
    if table.is_list("face") {
        return Ok(table.numbers::<3>("face")?.map(|place| Face::Point(DVec3::from_array(place))));
    }
    Ok(table.word("face", &["tuned", "movement", "view", "sides", "nothing"])?.map(|word| match word {
        "movement" => Face::Movement,
        "view" => Face::View,
        "sides" => Face::Sides,
        "nothing" => Face::Nothing,
        _ => Face::Tuned,
    }))
}

fn read_modifiers(table: &Table<'_>) -> Result<Modifiers, FileError> {
    let mut modifiers = Modifiers::default();
    let factors = [
        ("speed", &mut modifiers.speed),
        ("acceleration", &mut modifiers.acceleration),
        ("jump_height", &mut modifiers.jump_height),
        ("gravity", &mut modifiers.gravity),
    ];
    for (name, factor) in factors {
        if let Some(value) = table.number(name, 0.0..=100.0)? {
            *factor = value as f32;
        }
    }
    let abilities = [
        ("can_jump", &mut modifiers.can_jump),
        ("can_sprint", &mut modifiers.can_sprint),
        ("can_use_walls", &mut modifiers.can_use_walls),
        ("can_dash", &mut modifiers.can_dash),
        ("can_crouch", &mut modifiers.can_crouch),
        ("can_slide", &mut modifiers.can_slide),
        ("can_hover", &mut modifiers.can_hover),
        ("can_climb", &mut modifiers.can_climb),
        ("can_use_ledges", &mut modifiers.can_use_ledges),
        ("can_swim", &mut modifiers.can_swim),
    ];
    for (name, ability) in abilities {
        *ability = table.flag(name)?.unwrap_or(*ability);
    }
    table.finish()?;
    Ok(modifiers)
}
