//! What is wanted over time, at any instants, cut into ticks of any length.

use newel::glam::Vec3;
use newel::{Button, Change, Heading, Intent, Timed};

/// Changes of intent in order of time.
#[derive(Clone, Default)]
pub struct Script {
    changes: Vec<(f64, Change)>,
}

/// Moments closer than this to a tick's end belong to the next tick.
const HAIR: f64 = 1e-9;

impl Script {
    pub fn new() -> Script {
        Script::default()
    }

    pub fn at(mut self, time: f64, change: Change) -> Script {
        let place = self.changes.iter().rposition(|c| c.0 <= time).map_or(0, |i| i + 1);
        self.changes.insert(place, (time, change));
        self
    }

    pub fn head(self, time: f64, x: f32, z: f32) -> Script {
        self.at(time, Change::Heading(Heading::World(Vec3::new(x, 0.0, z))))
    }

    /// Another heading every 0.3719 s, at odds with every tick rate, for so many seconds.
    pub fn turning(seconds: f64) -> Script {
        let ways = [(1.0, 0.0), (0.6, 0.8), (0.0, 0.0), (0.0, 1.0), (-0.8, 0.6), (0.3, -0.2), (-1.0, 0.0)];
        let turns = 0..(seconds / 0.3719) as usize;
        turns.fold(Script::new(), |script, turn| {
            let (x, z) = ways[turn % ways.len()];
            script.head(turn as f64 * 0.3719, x, z)
        })
    }

    /// A button goes down, and up again `held` seconds later.
    pub fn press(self, time: f64, button: Button, held: f64) -> Script {
        self.at(time, Change::Button(button, true)).at(time + held, Change::Button(button, false))
    }

    /// What is wanted in a tick of `dt` seconds from `now` on.
    pub fn intent(&self, now: f64, dt: f64) -> Intent {
        let mut intent = Intent::default();
        for (time, change) in &self.changes {
            if *time <= now + HAIR {
                match *change {
                    Change::Heading(heading) => intent.heading = heading,
                    Change::View(view) => intent.view = view,
                    Change::Face(face) => intent.face = face,
                    Change::Stance(stance) => intent.stance = stance,
                    Change::Button(button, down) => intent.buttons = intent.buttons.with(button, down),
                    _ => unreachable!("a change that no test makes"),
                }
            } else if *time < now + dt - HAIR {
                intent = intent.then(Timed { at: time - now, change: *change }).expect("at most eight in a tick");
            }
        }
        intent
    }
}
