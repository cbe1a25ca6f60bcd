//! A player who walks a gauntlet once, a thousand times a second, and writes down what was done when.

use std::fmt::Write;

use newel::glam::{DVec3, Vec3};
use newel::{Button, Character, Command, Intent, Launch, Modifiers, Stance, Tick, Workspace};
use newel_lab::Course;

use crate::pieces::{Cue, Do, Gauntlet, When};

/// The player looks this often, a second.
const RATE: f64 = 1000.0;
/// A piece that takes longer than this is given up, seconds.
const PATIENCE: f64 = 20.0;
/// Moments are this much off the ticks of the rate above, seconds.
const OFF: f64 = 3.7e-4;

/// The result.
pub struct Recorded {
    /// The whole course with its script.
    pub text: String,
    /// How far it got: the piece it was stuck in, if it was.
    pub stuck_in: Option<&'static str>,
    pub seconds: f64,
}

/// Present input of a player.
struct Hands {
    heading: Vec3,
    speed: f64,
    stance: Stance,
    held: Vec<(Button, f64)>,
    script: Vec<(f64, String)>,
}

pub fn record(gauntlet: &Gauntlet, text: &str) -> Result<Recorded, Box<dyn std::error::Error>> {
    let course = Course::from_text("gauntlet.toml", format!("duration = 1\n{text}"))?;
    let mut hero = Character::spawn(&course.scene, &course.tuning, course.spawn)?;
    let mut work = Workspace::new();
    let mut hands =
        Hands { heading: Vec3::ZERO, speed: 1.0, stance: Stance::Stand, held: Vec::new(), script: Vec::new() };
    let (mut next, mut last_cue, mut since, mut piece) = (0, 0.0, 0.0, 0);
    let mut number = 0;
    while hero.position.x < gauntlet.end() && hero.clock - since < PATIENCE {
        let now = number as f64 / RATE;
        let mut commands = Vec::new();
        while let Some(cue) = gauntlet.cues.get(next).filter(|cue| holds(cue, &hero, now, last_cue)) {
            let off = if cue.when.iter().any(|when| matches!(when, When::Second)) { 1e-6 } else { OFF };
            hands.follow(cue, now + off, &mut commands);
            (next, last_cue) = (next + 1, now);
        }
        let intent = hands.intent(now);
        let modifiers = Modifiers { speed: hands.speed as f32, ..Modifiers::default() };
        let (terrain, tuning) = (&course.scene, &course.tuning);
        let tick = Tick { number, terrain, tuning, modifiers: &modifiers, dt: 1.0 / RATE };
        tick.step(&mut work, &mut hero, &intent, &commands)?;
        number += 1;
        while gauntlet.pieces.get(piece).is_some_and(|(_, end)| hero.position.x > *end) {
            (piece, since) = (piece + 1, hero.clock);
        }
    }
    let arrived = hero.position.x >= gauntlet.end();
    let stuck_in = (!arrived).then(|| gauntlet.pieces.get(piece).map_or("the end", |piece| piece.0));
    let seconds = (hero.clock + 0.5).ceil();
    hands.script.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut whole = format!("duration = {seconds}\n{text}");
    for (at, does) in hands.script.iter().filter(|moment| moment.0 < seconds) {
        let _ = writeln!(whole, "[[script]]\nat = {at:.6}\n{does}");
    }
    whole.push_str("[[expect]]\nclear = true\n");
    Ok(Recorded { text: whole, stuck_in, seconds })
}

fn holds(cue: &Cue, hero: &Character, now: f64, last: f64) -> bool {
    cue.when.iter().all(|when| match *when {
        When::At(x) => hero.position.x >= x,
        When::Above(y) => hero.position.y >= y,
        When::Standing => hero.mode.is_on_ground(),
        When::After(seconds) => now - last >= seconds,
        When::Second => now > 0.0 && now % 1.0 < 1e-9,
        When::Phase(period, from, to) => (from..to).contains(&(now % period)),
    })
}

impl Hands {
    fn follow(&mut self, cue: &Cue, at: f64, commands: &mut Vec<Command>) {
        for does in &cue.does {
            match *does {
                Do::Head(ahead, right) => {
                    self.heading = Vec3::new(ahead as f32, 0.0, right as f32).clamp_length_max(1.0);
                    let [x, _, z] = self.heading.to_array();
                    self.script.push((at, format!("heading = [{x}, 0, {z}]")));
                }
                Do::Press(name, seconds) => {
                    self.held.push((button(name), at + seconds));
                    self.script.push((at, format!("press = \"{name}\"")));
                    self.script.push((at + seconds, format!("release = \"{name}\"")));
                }
                Do::Stance(name) => {
                    self.stance = *Stance::ALL.iter().find(|stance| stance.words() == name).unwrap_or(&Stance::Stand);
                    self.script.push((at, format!("stance = \"{name}\"")));
                }
                Do::Flip => {
                    commands.push(Command::FlipGravity);
                    self.script.push((at, "flip_gravity = true".into()));
                }
                Do::Displace(by) => {
                    commands.push(Command::Displace { by: DVec3::X * by });
                    self.script.push((at, format!("displace = [{by:.4}, 0, 0]")));
                }
                Do::Launch(ahead, up) => {
                    commands.push(Command::Launch(Launch::at(DVec3::new(ahead, up, 0.0))));
                    self.script.push((at, format!("launch = [{ahead:.4}, {up:.4}, 0]")));
                }
                Do::Speed(speed) => {
                    self.speed = speed;
                    self.script.push((at, format!("modifiers = {{ speed = {speed:.4} }}")));
                }
            }
        }
    }

    fn intent(&mut self, now: f64) -> Intent {
        self.held.retain(|(_, until)| *until > now);
        let intent = Intent::toward(self.heading).looking(Vec3::X).in_stance(self.stance);
        self.held.iter().fold(intent, |intent, (button, _)| intent.hold(*button))
    }
}

fn button(name: &str) -> Button {
    match name {
        "jump" => Button::Jump,
        "sprint" => Button::Sprint,
        "dash" => Button::Dash,
        "slide" => Button::Slide,
        "hover" => Button::Hover,
        "grab" => Button::Grab,
        _ => Button::Drop,
    }
}
