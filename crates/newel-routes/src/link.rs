//! Links that take more than walking: drops, jumps, ladders and ledges. A link is a short script, found by the character itself: it was played
//! from the place where it begins, with the real tuning, and came to stand where the link ends. Played again from there it does the same,
//! at any tick rate.

use newel::glam::{DVec3, Vec3};
use newel::{Button, Change, Character, Face, Heading, Intent, Mode, Timed};

use crate::legs::Legs;

/// Kind of a link, by the abilities that it uses.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum LinkKind {
    /// Off an edge, and down.
    Drop,
    /// A jump.
    Jump,
    /// Up or down what gives hold.
    Climb,
    /// Onto a ledge or over what is low, or let down from one.
    Ledge,
}

impl LinkKind {
    /// Readable text.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            LinkKind::Drop => "drop",
            LinkKind::Jump => "jump",
            LinkKind::Climb => "climb",
            LinkKind::Ledge => "ledge",
        }
    }
}

/// Buttons over time, from standing at rest.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Script {
    /// Unit vector: where it heads, at full speed, until it stands again.
    pub way: Vec3,
    /// When the jump button goes down, seconds; it stays down until it stands again.
    pub jumps: Option<f64>,
    /// Whether it holds the grab button: to let itself down over an edge.
    pub grabs: bool,
}

impl Script {
    /// The input of a tick of `dt` seconds that begins `since` seconds after the script. A character that `hangs` presses the jump button again to pull itself up.
    #[must_use]
    pub fn intent(&self, own: Intent, since: f64, dt: f64, hangs: bool) -> Intent {
        let mut intent = own.led(Heading::World(self.way), Face::Tuned);
        intent.guard = false;
        if self.grabs {
            intent = intent.hold(Button::Grab);
        }
        if hangs {
            let press = Timed { at: 0.5 * dt, change: Change::Button(Button::Jump, true) };
            return intent.also(press).unwrap_or(intent);
        }
        match self.jumps {
            Some(when) if when <= since => intent.hold(Button::Jump),
            Some(when) if when < since + dt => {
                let press = Timed { at: (when - since).min(dt), change: Change::Button(Button::Jump, true) };
                intent.also(press).unwrap_or(intent)
            }
            _ => intent,
        }
    }
}

/// One way that takes more than walking.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Link {
    /// The node it begins at.
    pub from: u16,
    pub kind: LinkKind,
    pub script: Script,
    /// Where it comes to rest, in the world.
    pub lands: DVec3,
    pub seconds: f32,
}

/// How it is tried: in ticks of this many seconds, this long at most; and so long without leaving the ground is enough.
const TICK: f64 = 0.1;
const LONGEST: f64 = 20.0;
const STAYS: f64 = 0.45;
/// And so long with less than so much way, metres, is too.
const STUCK: f64 = 0.8;
const LITTLE: f64 = 0.15;
/// Time of hanging after which a pull-up has failed, seconds.
const HANGS: f64 = 1.05;
/// It comes to rest within so many ticks after it has landed.
const STOPPING: usize = 20;

/// Plays it; a link where it comes to stand somewhere, having left the ground.
pub(crate) fn try_out(legs: &mut Legs<'_>, who: &Character, script: Script) -> Option<Link> {
    let (mut it, mut time, mut left) = (who.clone(), 0.0, false);
    let mut kind = if script.jumps.is_some() { LinkKind::Jump } else { LinkKind::Drop };
    let patience = STAYS + script.jumps.unwrap_or(0.0);
    let (mut was, mut hung) = ((it.position, 0.0), 0.0);
    while !(left && it.mode == Mode::Ground) {
        let hangs = it.mode == Mode::Ledge && !it.phase.is_ledge_move();
        let intent = script.intent(Intent::default(), time, TICK, hangs);
        let deepest = legs.play_for_real(&mut it, &intent, TICK)?;
        time += TICK;
        match it.mode {
            Mode::Swim | Mode::Hover | Mode::Custom => return None,
            Mode::Climb => kind = LinkKind::Climb,
            Mode::Ledge => {
                kind = if kind == LinkKind::Climb { kind } else { LinkKind::Ledge };
                hung = if it.phase.is_ledge_move() { 0.0 } else { hung + TICK };
            }
            _ => {}
        }
        left |= it.mode != Mode::Ground || deepest.left;
        let too_long = time > LONGEST || hung > HANGS || (!left && time > patience);
        if time - was.1 >= STUCK {
            if (it.position - was.0).length() < LITTLE {
                return None;
            }
            was = (it.position, time);
        }
        if too_long || deepest.fell > legs.survey.drop.max(legs.step()) {
            return None;
        }
    }
    for _ in 0..STOPPING {
        if it.velocity == DVec3::ZERO && it.mode == Mode::Ground {
            let (lands, seconds) = (it.position, time as f32);
            return Some(Link { from: 0, kind, script, lands, seconds });
        }
        legs.play_for_real(&mut it, &Intent::default().guarded(), TICK)?;
        time += TICK;
        if it.mode != Mode::Ground {
            return None;
        }
    }
    None
}
