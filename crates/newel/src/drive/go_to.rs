//! Going to a place by itself, as after a click: a driver. It looks at the character once a tick and makes an intent; the tick does not
//! know who drives.

use glam::DVec3;

use super::heading::{Face, Heading, THERE};
use super::intent::Intent;
use super::part_of_full;
use crate::outcome::{Barred, Readout};
use crate::phase::Mode;
use crate::state::State;

/// How a [`GoTo`] goes.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(default))]
pub struct Going {
    /// How fast, 0 to 1: 1 is full speed.
    pub speed: f32,
    /// Standing still this near counts as arrived, metres over the map, 0 or more. It heads for the place itself all the same.
    pub radius: f64,
    /// And at most this far above or below it, metres: else it came out on another floor.
    pub height: f64,
    /// Target of the facing on the way.
    pub face: Face,
    /// Behaviour at a solid obstacle.
    pub at_solid: AtSolid,
    /// It gives up after so long without coming nearer, seconds, over 0; in the air no patience is lost.
    pub patience: f64,
    /// Behaviour while the player gives a heading.
    pub own_heading: OwnHeading,
    /// From how far a stick must be pressed for that, 0 to 1: one that rests a little aside leads nowhere.
    pub own_from: f32,
}

impl Default for Going {
    /// At full speed, to within 10 cm, looking where it goes; along walls, for a second without coming nearer; the player's own heading
    /// cancels it.
    fn default() -> Going {
        Going {
            speed: 1.0,
            radius: 0.1,
            height: 0.5,
            face: Face::Movement,
            at_solid: AtSolid::Slides,
            patience: 1.0,
            own_heading: OwnHeading::Cancels,
            own_from: 0.2,
        }
    }
}

/// Behaviour of a [`GoTo`] at a solid obstacle.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum AtSolid {
    /// It ends there.
    Ends,
    /// It goes along it, for as long as that leads nearer and its patience lasts.
    Slides,
}

/// Behaviour of a [`GoTo`] while the player gives a heading.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum OwnHeading {
    /// It ends.
    Cancels,
    /// The player leads for as long as there is one; after that it goes on.
    Leads,
    /// Nothing: it leads, not the player.
    Ignored,
}

/// How a [`GoTo`] ended.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum GoEnd {
    /// It stands there.
    Arrived {
        /// How far from the place itself, metres over the map.
        off: f64,
    },
    /// It stands under the place, or over it.
    OtherFloor {
        /// How much higher the place is than it is, metres.
        higher: f64,
    },
    /// Something is in its way.
    Blocked {
        /// What.
        by: Barred,
        /// How far it is yet, metres over the map.
        left: f64,
    },
    /// It came no nearer, and touches nothing that would be why: carried away, thrown about, in the air, too slow, or locked.
    NoNearer {
        /// How far it is yet, metres over the map.
        left: f64,
    },
    /// The player took over.
    Overruled,
    /// The game called it off.
    Cancelled,
    /// The place is not a place: not finite, or this long.
    NoPlace,
}

impl GoEnd {
    /// Readable text.
    #[must_use]
    pub fn words(&self) -> &'static str {
        match self {
            GoEnd::Arrived { .. } => "arrived",
            GoEnd::OtherFloor { .. } => "on another floor",
            GoEnd::Blocked { by, .. } if by.edge => "at an edge",
            GoEnd::Blocked { .. } => "something is in the way",
            GoEnd::NoNearer { .. } => "came no nearer",
            GoEnd::Overruled => "the player took over",
            GoEnd::Cancelled => "called off",
            GoEnd::NoPlace => "no such place",
        }
    }
}

/// Coming nearer by this much, metres, is what patience waits for; or, near by, by this part of what is left.
const NEARER: f64 = 0.01;
const NEARER_BY: f64 = 0.1;
/// Slower than this, m/s, it stands for all one sees: an eased stop takes long to end.
const STANDS: f64 = 0.01;

/// Goes to a place and stops there: the driver for a click, or for an agent that is told where to be.
///
/// It is a small plain state. Once a tick [`GoTo::drive`] makes the intent, from the player's own; how it ended is handed out once,
/// by [`GoTo::take_end`]. The place may be set anew at any moment, each tick too: what it had of speed it keeps, and turns. To follow a
/// button held down, set the place while it is.
///
/// ```
/// use newel::{GoEnd, GoTo, Going, Intent, Mesh, Runner, Tuning, glam::DVec3};
/// let floor = [[-20.0, 0.0, -20.0], [20.0, 0.0, -20.0], [20.0, 0.0, 20.0], [-20.0, 0.0, 20.0f32]];
/// let level = Mesh::new(&floor, &[0, 1, 2, 0, 2, 3])?;
/// let tuning = Tuning::walker();
/// let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
/// let mut going = GoTo::new(Going::default());
/// going.go(DVec3::new(3.0, 0.0, -4.0)); // a click
/// for _frame in 0..120 {
///     hero.advance(1.0 / 60.0, &level, &tuning, |me| going.drive(Intent::default(), me, me.last), |_| {})?;
/// }
/// assert!((hero.pose().position - DVec3::new(3.0, 0.0, -4.0)).length() < 1e-3);
/// assert!(matches!(going.take_end(), Some(GoEnd::Arrived { .. })));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct GoTo {
    /// How it goes; may be changed on the way.
    pub going: Going,
    place: Option<DVec3>,
    ended: Option<GoEnd>,
    /// Where it was when it was last asked, and when; nothing before it first is.
    was: Option<(DVec3, f64)>,
    /// How far it has come nearer in all, metres; how far that was at most; and the patience lost since, seconds.
    nearer: f64,
    nearest: f64,
    lost: f64,
    /// The last obstacle since then.
    barred: Option<Barred>,
    /// Where it has arrived, but not quite come to rest.
    settles: Option<DVec3>,
}

impl Default for GoTo {
    /// Going nowhere, as [`Going::default`] says.
    fn default() -> GoTo {
        GoTo::new(Going::default())
    }
}

impl GoTo {
    /// One that goes nowhere yet.
    #[must_use]
    pub fn new(going: Going) -> GoTo {
        GoTo {
            going,
            place: None,
            ended: None,
            was: None,
            nearer: 0.0,
            nearest: 0.0,
            lost: 0.0,
            barred: None,
            settles: None,
        }
    }

    /// Goes to `place` from now on, in the world, metres: the point on the ground to stand on. It forgets how it last ended. A new place
    /// on the way does not begin its patience anew.
    pub fn go(&mut self, place: DVec3) {
        if self.place.is_none() {
            *self = GoTo::new(self.going);
        }
        self.ended = None;
        self.place = Some(place);
    }

    /// Calls it off: it stops as it does without input.
    pub fn cancel(&mut self) {
        self.settles = None;
        if self.place.is_some() {
            self.end(GoEnd::Cancelled);
        }
    }

    /// Where it is going, if anywhere.
    #[must_use]
    pub fn place(&self) -> Option<DVec3> {
        self.place
    }

    /// How it ended, told once.
    pub fn take_end(&mut self) -> Option<GoEnd> {
        self.ended.take()
    }

    /// The intent for the next tick of the character `me`: the player's `own` with the heading there. Buttons, stance and view stay the
    /// player's. `last` is what the tick before read; without it, it cannot tell what is in its way.
    pub fn drive(&mut self, own: Intent, me: &State, last: Option<&Readout>) -> Intent {
        let pressed = own.pressed_heading() > self.going.own_from.max(0.0);
        let Some(place) = self.place else { return self.settle(own, me, pressed) };
        let leads = pressed && self.going.own_heading != OwnHeading::Ignored;
        if leads && self.going.own_heading == OwnHeading::Cancels {
            self.end(GoEnd::Overruled);
            return own;
        }
        // A flight may pass the place; the character comes back.
        let flies = me.mode == Mode::Air && own_speed(me) >= STANDS;
        self.note_nearer(me, place, leads || flies);
        if leads {
            return own;
        }
        let way = over_map(place - me.position, me).as_vec3();
        // A new place may lead elsewhere.
        let by = last.and_then(|last| last.barred).filter(|by| by.normal.dot(way) < 0.0);
        self.barred = by.or(self.barred);
        match self.ends(me, place) {
            None => self.led(own, place),
            Some(end) => {
                self.end(end);
                self.settles = Some(place).filter(|_| matches!(end, GoEnd::Arrived { .. }));
                self.settle(own, me, pressed)
            }
        }
    }

    /// The last of the way, after it has told that it is there.
    fn settle(&mut self, own: Intent, me: &State, pressed: bool) -> Intent {
        self.settles = self.settles.filter(|_| !pressed && own_speed(me) > 0.0);
        self.settles.map_or(own, |place| self.led(own, place))
    }

    fn led(&self, own: Intent, place: DVec3) -> Intent {
        let speed = part_of_full(self.going.speed);
        own.led(Heading::To { place, speed }, self.going.face)
    }

    fn end(&mut self, end: GoEnd) {
        *self = GoTo { ended: Some(end), ..GoTo::new(self.going) };
    }

    /// Keeps count of how far it has come nearer: toward the place as it is now, so that chasing what runs away counts too. Patience is
    /// lost while it comes no nearer, kept while it does, and whole again once it is nearer than it ever was.
    fn note_nearer(&mut self, me: &State, place: DVec3, excused: bool) {
        let left = over_map(place - me.position, me).length();
        if let Some((was, when)) = self.was {
            let (nearer, passed) = (over_map(place - was, me).length() - left, me.clock - when);
            self.nearer += nearer;
            self.lost += if nearer < STANDS * passed { passed } else { 0.0 };
        }
        self.was = Some((me.position, me.clock));
        if excused || self.nearer > self.nearest + NEARER.min(NEARER_BY * left) {
            (self.nearest, self.lost, self.barred) = (self.nearer, 0.0, None);
        }
    }

    /// Whether it has ended, and how.
    fn ends(&self, me: &State, place: DVec3) -> Option<GoEnd> {
        let left = over_map(place - me.position, me).length();
        if !left.is_finite() {
            return Some(GoEnd::NoPlace);
        }
        let stands = me.mode != Mode::Air && own_speed(me) < STANDS;
        let higher = (place - me.position).dot(me.up.as_dvec3());
        let there = left <= self.going.radius.max(2.0 * THERE);
        if there && stands {
            let off_floor = higher.abs() > self.going.height;
            return Some(if off_floor { GoEnd::OtherFloor { higher } } else { GoEnd::Arrived { off: left } });
        }
        let patient = self.lost < self.going.patience;
        match self.barred {
            Some(by) if !patient || self.going.at_solid == AtSolid::Ends => Some(GoEnd::Blocked { by, left }),
            None if !patient => Some(GoEnd::NoNearer { left }),
            _ => None,
        }
    }
}

/// Its speed against what carries it, m/s.
fn own_speed(me: &State) -> f64 {
    (me.velocity - me.carried.as_dvec3()).length()
}

/// The part of a way that goes over the map, in its plane.
fn over_map(way: DVec3, me: &State) -> DVec3 {
    me.keeps.over_map(way, me.up.as_dvec3())
}
