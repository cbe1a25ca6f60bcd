//! Generated players: what is pressed when, at moments that no tick rate favours.

use fastrand::Rng;
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{Button, Change, Command, Heading, Intent, Stance, Timed, Tuning};

use super::land::Land;
use super::parts::{between, unit};
use super::time::{UNITS, seconds};

/// How a player moves the stick.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PlayerKind {
    /// Turns and sprints at odd times.
    Walks,
    /// The same with jumps.
    Jumps,
    /// The same with crouches, slides and dashes.
    Acts,
    /// A stick that trembles 60 times a second.
    Trembles,
    /// A mouse that turns the view 90 times a second.
    Mouse,
}

impl PlayerKind {
    /// Every kind.
    pub const ALL: [PlayerKind; 5] =
        [PlayerKind::Walks, PlayerKind::Jumps, PlayerKind::Acts, PlayerKind::Trembles, PlayerKind::Mouse];
}

/// Buttons over time.
#[derive(Debug, Clone)]
pub struct Player {
    changes: Vec<(i64, Change)>,
}

/// How much a trembling stick is off, in radians.
const TREMBLE: f64 = 0.03;

impl Player {
    /// A player for so many seconds, who keeps within the extent of the land by dead reckoning.
    #[must_use]
    pub fn new(kind: PlayerKind, land: &Land, tuning: &Tuning, length: u32, rng: &mut Rng) -> Player {
        let mut player = Player { changes: Vec::new() };
        let end = i64::from(length) * UNITS;
        let speed = f64::from(tuning.values().ground.speed);
        let (mut at, mut place, mut angle) = (0, DVec3::ZERO, between(rng, 0.0, std::f64::consts::TAU));
        while at < end {
            let next = at + (between(rng, 0.2, 1.7) * UNITS as f64) as i64;
            angle += between(rng, -1.2, 1.2);
            if place.length() > 0.6 * land.extent {
                angle = (-place.z).atan2(-place.x) + between(rng, -0.5, 0.5);
            }
            let rests = rng.f64() < 0.08;
            let way = if land.kind.is_closed() { unit(rng) } else { DVec3::new(angle.cos(), 0.0, angle.sin()) };
            let way = if rests { DVec3::ZERO } else { way };
            player.head(kind, at..next.min(end), way, angle, rng);
            player.press(kind, at, rng);
            if !land.kind.is_closed() {
                place += way * (speed * seconds(next - at));
            }
            at = next;
        }
        player.changes.sort_by_key(|change| change.0);
        player
    }

    fn add(&mut self, at: i64, change: Change) {
        self.changes.push((at, change));
    }

    /// Goes one way for a span of time.
    fn head(&mut self, kind: PlayerKind, span: std::ops::Range<i64>, way: DVec3, angle: f64, rng: &mut Rng) {
        let world = |way: DVec3| Change::Heading(Heading::World(way.as_vec3()));
        match kind {
            PlayerKind::Trembles => {
                for at in span.step_by((UNITS / 60) as usize) {
                    let off = DVec3::new(-way.z, way.y, way.x) * between(rng, -TREMBLE, TREMBLE);
                    self.add(at, world(way * between(rng, 0.9, 1.0) + off));
                }
            }
            PlayerKind::Mouse => {
                let stick =
                    if way == DVec3::ZERO { Vec2::ZERO } else { Vec2::new(between(rng, -0.7, 0.7) as f32, 1.0) };
                self.add(span.start, Change::Heading(Heading::View(stick)));
                let (start, turns) = (span.start, between(rng, -1.5, 1.5));
                for at in span.step_by((UNITS / 90) as usize) {
                    let yaw = angle + turns * seconds(at - start);
                    self.add(at, Change::View(Vec3::new(yaw.cos() as f32, -0.2, yaw.sin() as f32)));
                }
            }
            _ => self.add(span.start, world(way)),
        }
    }

    /// Presses buttons and takes stances at one moment.
    fn press(&mut self, kind: PlayerKind, at: i64, rng: &mut Rng) {
        self.add(at, Change::Button(Button::Sprint, rng.f64() < 0.4));
        if kind == PlayerKind::Walks {
            return;
        }
        if rng.f64() < 0.3 {
            self.tap(at, Button::Jump, rng);
        }
        if kind == PlayerKind::Acts {
            let stance = [Stance::Stand, Stance::Stand, Stance::Crouch][rng.usize(..3)];
            self.add(at, Change::Stance(stance));
            for button in [Button::Slide, Button::Dash] {
                if rng.f64() < 0.15 {
                    self.tap(at, button, rng);
                }
            }
        }
    }

    fn tap(&mut self, at: i64, button: Button, rng: &mut Rng) {
        let down = at + (between(rng, 0.0, 0.1) * UNITS as f64) as i64;
        self.add(down, Change::Button(button, true));
        self.add(down + (between(rng, 0.03, 0.4) * UNITS as f64) as i64, Change::Button(button, false));
    }

    /// The same player with everything later.
    #[must_use]
    pub fn later(&self, units: i64) -> Player {
        Player { changes: self.changes.iter().map(|(at, change)| (at + units, *change)).collect() }
    }

    /// The same player in a world that is turned.
    #[must_use]
    pub fn turned(&self, turn: DQuat) -> Player {
        let turned = |change: &Change| match *change {
            Change::Heading(Heading::World(way)) => Change::Heading(Heading::World(turn.as_quat() * way)),
            Change::View(view) => Change::View(turn.as_quat() * view),
            other => other,
        };
        Player { changes: self.changes.iter().map(|(at, change)| (*at, turned(change))).collect() }
    }

    /// Wishes in a tick between two times in units: an intent, and what it cannot carry.
    #[must_use]
    pub fn wanted(&self, from: i64, to: i64) -> (Intent, Vec<Command>) {
        let now = self.changes.partition_point(|change| change.0 <= from);
        let (mut intent, mut more) = (Intent::default(), Vec::new());
        self.changes[..now].iter().for_each(|(_, change)| make(&mut intent, change));
        for (at, change) in self.changes[now..].iter().take_while(|change| change.0 < to) {
            let timed = Timed { at: seconds(at - from), change: *change };
            match intent.then(timed) {
                Some(made) => intent = made,
                None => more.push(Command::Change(timed)),
            }
        }
        (intent, more)
    }
}

/// Makes a change of an intent at once.
fn make(intent: &mut Intent, change: &Change) {
    match *change {
        Change::Heading(heading) => intent.heading = heading,
        Change::View(view) => intent.view = view,
        Change::Face(face) => intent.face = face,
        Change::Button(button, down) => intent.buttons = intent.buttons.with(button, down),
        Change::Stance(stance) => intent.stance = stance,
        _ => {}
    }
}
