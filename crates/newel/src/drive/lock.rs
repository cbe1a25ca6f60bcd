//! Keeping to a target: choosing one, facing it, going round it, and a view that eases toward it. A driver.

use glam::{DVec3, Vec2, Vec3};

use super::heading::{Face, Heading};
use super::intent::{Change, Intent, Timed};
use crate::math::{angle_left, any_square_to, direction, flatten, turned_left};
use crate::state::State;
use crate::terrain::{Terrain, When};

/// Something that can be locked onto.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Target {
    /// The game's own name for it.
    pub id: u64,
    /// Where to look at it, in the world, metres: its middle, say.
    pub place: DVec3,
    /// The terrain's body that it is, which does not hide it; 0 if it is none.
    pub body: u64,
}

/// How a [`Lock`] chooses, keeps and shows its target.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(default))]
pub struct Locking {
    /// The farthest target that is chosen, metres from the eyes.
    pub reach: f64,
    /// How far off the view a target may be, degrees, 0 to 180.
    pub cone: f32,
    /// Or how far aside of where the view leads, metres: what is near is then chosen where it is wide of the cone.
    pub girth: f64,
    /// How many metres farther one target may be for each degree that it is nearer to the view.
    pub per_degree: f64,
    /// It is lost where it is farther than this, metres.
    pub keeps: f64,
    /// And where it has been out of sight for so long, seconds.
    pub unseen: f64,
    /// The time constant with which the view follows it, seconds; at once at 0.
    pub ease: f32,
    /// Where the view looks beside it, degrees: to the left, and up.
    pub offset: Vec2,
    /// Whether the body faces it too; else it faces as it is tuned to.
    pub faces: bool,
}

impl Default for Locking {
    /// Up to 20 m away, 35 degrees or 1.5 m off the view; lost beyond 25 m, or after 2 s out of sight; the view eases in 0.12 s.
    fn default() -> Locking {
        Locking {
            reach: 20.0,
            cone: 35.0,
            girth: 1.5,
            per_degree: 0.2,
            keeps: 25.0,
            unseen: 2.0,
            ease: 0.12,
            offset: Vec2::ZERO,
            faces: true,
        }
    }
}

/// Targets of a tick, and the terrain that may hide them.
#[derive(Clone, Copy)]
pub struct Sights<'a> {
    /// Terrain that hides targets.
    pub terrain: &'a dyn Terrain,
    /// Which tick it is.
    pub when: When,
    /// All that can be locked onto, in any order.
    pub targets: &'a [Target],
}

/// Which way to switch.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Aside {
    /// To the left of the one it has.
    Left,
    /// To its right.
    Right,
}

/// Why there is no target to take. Of several reasons the one of the target that came nearest to being taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum NoTarget {
    /// There is none at all that the game lets pass, or none on that side.
    None,
    /// All are too far.
    TooFar,
    /// All within reach are too far off the view.
    OffView,
    /// Something hides all that would do.
    Hidden,
}

/// Why a lock ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum LockEnd {
    /// The target is no longer among the targets.
    Vanished,
    /// It went too far away.
    TooFar,
    /// It was out of sight for too long.
    OutOfSight,
    /// The game let go of it.
    Released,
}

impl LockEnd {
    /// Readable text.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            LockEnd::Vanished => "the target is gone",
            LockEnd::TooFar => "the target is too far away",
            LockEnd::OutOfSight => "the target is out of sight",
            LockEnd::Released => "let go",
        }
    }
}

/// A view that has less than this to go, radians, is there.
const THERE: f64 = 1e-4;
/// A view never looks nearer to straight up or down than this, radians.
const STEEPEST: f64 = 1.55;
/// A hit within this distance of the target, metres, does not hide it.
const AT_TARGET: f64 = 0.05;

/// Keeps to a target: the driver for a player, or an agent, that has one in its eye.
///
/// A small plain state. [`Lock::take`] chooses a target, [`Lock::switch`] another; once a tick [`Lock::drive`] makes the intent of the
/// player's own. While it is locked the body faces the target and the player's stick leads to it and round it, at the tuning's own speeds
/// for sideways and backward ([`OnGround::sideways`](crate::OnGround::sideways)); [`Readout::angle`](crate::Readout::angle) tells which way
/// it goes as seen from its facing. The view eases toward the target, and back to the player's own afterwards.
///
/// ```
/// use newel::{Intent, Lock, Locking, Mesh, Runner, Sights, Target, Tuning, When, glam::{DVec3, Vec2}, Heading};
/// let floor = [[-20.0, 0.0, -20.0], [20.0, 0.0, -20.0], [20.0, 0.0, 20.0], [-20.0, 0.0, 20.0f32]];
/// let level = Mesh::new(&floor, &[0, 1, 2, 0, 2, 3])?;
/// let tuning = Tuning::walker();
/// let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
/// let lantern = [Target { id: 7, place: DVec3::new(0.0, 1.0, -4.0), body: 0 }];
/// let mut lock = Lock::new(Locking::default());
/// let own = Intent::new(Heading::View(Vec2::new(1.0, 0.0))); // to the right, all the time
/// let sights = Sights { terrain: &level, when: When::tick(0, 1.0 / 60.0), targets: &lantern };
/// assert_eq!(lock.take(&hero.character, own.view, &sights, |_| true), Ok(7));
/// for _frame in 0..300 {
///     hero.advance(1.0 / 60.0, &level, &tuning, |me| lock.drive(own, me, &sights), |_| {})?;
/// }
/// let off = hero.pose().position - DVec3::new(0.0, 0.0, -4.0);
/// assert!((off.length() - 4.0).abs() < 0.1, "round it, at the same distance");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Lock {
    /// How it locks; may be changed on the way.
    pub locking: Locking,
    on: Option<u64>,
    ended: Option<LockEnd>,
    /// How long the target has been out of sight, seconds.
    unseen: f64,
    /// The view, to the left and up, radians, where it is not the player's own; and where it was to look when it last was asked, and when.
    view: Option<Look>,
    aimed: Option<(Look, f64)>,
}

/// A view by its angles about up, radians.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Look {
    left: f64,
    up: f64,
}

impl Lock {
    /// One without a target.
    #[must_use]
    pub fn new(locking: Locking) -> Lock {
        Lock { locking, on: None, ended: None, unseen: 0.0, view: None, aimed: None }
    }

    /// The target it has.
    #[must_use]
    pub fn on(&self) -> Option<u64> {
        self.on
    }

    /// Takes the best target ahead of the view: the nearest, where each degree off the view counts as [`Locking::per_degree`] metres. `fits`
    /// is the game's own say in it.
    ///
    /// # Errors
    /// [`NoTarget`] says why there is none; it then keeps the one it has.
    pub fn take(
        &mut self,
        me: &State,
        view: Vec3,
        sights: &Sights<'_>,
        fits: impl Fn(&Target) -> bool,
    ) -> Result<u64, NoTarget> {
        let eyes = eyes_of(me);
        let view = direction(view).unwrap_or(me.facing).as_dvec3();
        let (mut best, mut why) = (None, NoTarget::None);
        for target in sights.targets.iter().filter(|t| t.place.is_finite() && fits(t)) {
            let way = target.place - eyes;
            let far = way.length();
            let ahead = way.dot(view);
            let aside = (way - view * ahead).length();
            let off = libm::atan2(aside, ahead).to_degrees();
            let in_view = off <= f64::from(self.locking.cone) || (ahead > 0.0 && aside <= self.locking.girth);
            let score = far + off * self.locking.per_degree;
            let better = best.is_none_or(|(least, id)| score < least || (score == least && target.id < id));
            let wrong = match () {
                () if far > self.locking.reach => Some(NoTarget::TooFar),
                () if !in_view => Some(NoTarget::OffView),
                () if better && is_hidden(eyes, target, sights) => Some(NoTarget::Hidden),
                () => None,
            };
            match wrong {
                Some(wrong) => why = nearer_miss(why, wrong),
                None if better => best = Some((score, target.id)),
                None => {}
            }
        }
        best.map(|(_, id)| self.lock(id)).ok_or(why)
    }

    /// Takes the next target to one side of the one it has, among those that would be kept.
    ///
    /// # Errors
    /// [`NoTarget`] says why there is none; it then keeps the one it has.
    pub fn switch(
        &mut self,
        to: Aside,
        me: &State,
        sights: &Sights<'_>,
        fits: impl Fn(&Target) -> bool,
    ) -> Result<u64, NoTarget> {
        let eyes = eyes_of(me);
        let flat = |t: &Target| direction(flatten((t.place - eyes).as_vec3(), me.up)).unwrap_or(me.facing);
        let now = self.target(sights).map_or(me.facing, |t| flat(&t));
        let (mut best, mut why): (Option<(f32, u64)>, _) = (None, NoTarget::None);
        for target in sights.targets.iter().filter(|t| t.place.is_finite() && Some(t.id) != self.on && fits(t)) {
            let left = angle_left(now, flat(target), me.up);
            let turn = if to == Aside::Left { left } else { -left };
            let better = best.is_none_or(|(least, id)| turn < least || (turn == least && target.id < id));
            if turn <= 0.0 || !better {
                continue;
            }
            if (target.place - eyes).length() > self.locking.keeps {
                why = nearer_miss(why, NoTarget::TooFar);
            } else if is_hidden(eyes, target, sights) {
                why = nearer_miss(why, NoTarget::Hidden);
            } else {
                best = Some((turn, target.id));
            }
        }
        best.map(|(_, id)| self.lock(id)).ok_or(why)
    }

    fn lock(&mut self, id: u64) -> u64 {
        (self.on, self.ended, self.unseen, self.aimed) = (Some(id), None, 0.0, None);
        id
    }

    /// Lets go of the target: facing and view go back to the player's own, turning as ever.
    pub fn release(&mut self) {
        if self.on.is_some() {
            self.end(LockEnd::Released);
        }
    }

    /// Why it lost its target, told once.
    pub fn take_end(&mut self) -> Option<LockEnd> {
        self.ended.take()
    }

    fn end(&mut self, why: LockEnd) {
        (self.on, self.ended, self.aimed) = (None, Some(why), None);
    }

    fn target(&self, sights: &Sights<'_>) -> Option<Target> {
        sights.targets.iter().find(|t| Some(t.id) == self.on).copied()
    }

    /// The intent for the next tick of the character `me`: the player's `own`, led round the target and facing it. Its view is what the
    /// camera should show.
    pub fn drive(&mut self, own: Intent, me: &State, sights: &Sights<'_>) -> Intent {
        if self.on.is_some() {
            let lost = self.lost(me, sights);
            if let Some(why) = lost {
                self.end(why);
            }
        }
        let target = self.target(sights).filter(|_| self.on.is_some());
        let looks = self.look(own.view, me, target.as_ref());
        let mut intent = match target {
            Some(target) => led_round(own, target.place, self.locking.faces),
            None => own,
        };
        intent.view = looks;
        intent
    }

    /// Why the target is lost, if it is.
    fn lost(&mut self, me: &State, sights: &Sights<'_>) -> Option<LockEnd> {
        let Some(target) = self.target(sights).filter(|t| t.place.is_finite()) else { return Some(LockEnd::Vanished) };
        let eyes = eyes_of(me);
        if (target.place - eyes).length() > self.locking.keeps {
            return Some(LockEnd::TooFar);
        }
        self.unseen = if is_hidden(eyes, &target, sights) { self.unseen + sights.when.dt } else { 0.0 };
        (self.unseen > self.locking.unseen).then_some(LockEnd::OutOfSight)
    }

    /// The view now: on its way to the target, or back to the player's own.
    fn look(&mut self, own: Vec3, me: &State, target: Option<&Target>) -> Vec3 {
        let own_look = Look::of(own, me);
        let aim = match target {
            Some(target) => {
                let to = Look::of((target.place - eyes_of(me)).as_vec3(), me);
                let offset = if self.locking.offset.is_finite() { self.locking.offset } else { Vec2::ZERO };
                let [left, up] = offset.to_array().map(|degrees| f64::from(degrees.to_radians()));
                Look { left: to.left + left, up: (to.up + up).clamp(-STEEPEST, STEEPEST) }
            }
            None => own_look,
        };
        if target.is_none() && self.view.is_none() {
            return own;
        }
        let (before, passed) = self.aimed.map_or((aim, 0.0), |(was, when)| (was, (me.clock - when).max(0.0)));
        let view = self.view.unwrap_or(own_look).eased(before, aim, passed, f64::from(self.locking.ease));
        self.aimed = Some((aim, me.clock));
        let arrived = view.left_to(aim) < THERE;
        self.view = Some(view).filter(|_| target.is_some() || !arrived);
        if target.is_none() && arrived { own } else { view.direction(me) }
    }
}

impl Look {
    fn of(way: Vec3, me: &State) -> Look {
        let way = direction(way).filter(|way| way.is_finite()).unwrap_or(me.facing);
        let rise = f64::from(way.dot(me.up)).clamp(-1.0, 1.0);
        let flat = direction(flatten(way, me.up)).unwrap_or(me.facing);
        let left = f64::from(angle_left(any_square_to(me.up), flat, me.up));
        Look { left, up: libm::asin(rise).clamp(-STEEPEST, STEEPEST) }
    }

    fn direction(self, me: &State) -> Vec3 {
        let flat = turned_left(any_square_to(me.up), me.up, self.left as f32);
        flat * libm::cos(self.up) as f32 + me.up * libm::sin(self.up) as f32
    }

    fn left_to(self, other: Look) -> f64 {
        short_way(other.left - self.left).abs().max((other.up - self.up).abs())
    }

    /// Follows what it was to look at, which went from `before` to `aim` at a steady rate, with a time constant: exact, so the same for any
    /// number of ticks.
    fn eased(self, before: Look, aim: Look, passed: f64, ease: f64) -> Look {
        if !(ease > 0.0 && ease.is_finite()) {
            return aim;
        }
        let kept = libm::exp(-passed / ease);
        // Lag of a steadily moving aim, per radian.
        let behind = if passed > 0.0 { ease / passed * (1.0 - kept) } else { 0.0 };
        let follow = |off: f64, moved: f64| off * kept - moved * behind;
        let left = aim.left + follow(short_way(self.left - before.left), short_way(aim.left - before.left));
        Look { left: short_way(left), up: aim.up + follow(self.up - before.up, aim.up - before.up) }
    }
}

/// An angle by the short way round, radians.
fn short_way(angle: f64) -> f64 {
    use core::f64::consts::TAU;
    angle - TAU * libm::round(angle / TAU)
}

fn eyes_of(me: &State) -> DVec3 {
    me.position + (me.up * me.eyes).as_dvec3()
}

/// True where something is between the eyes and a target.
fn is_hidden(eyes: DVec3, target: &Target, sights: &Sights<'_>) -> bool {
    let way = target.place - eyes;
    let far = way.length();
    if far <= AT_TARGET {
        return false;
    }
    let along = (way / far).as_vec3();
    let hit = sights.terrain.cast(sights.when, eyes, along, far - AT_TARGET);
    hit.is_some_and(|hit| target.body == 0 || hit.body != target.body)
}

/// Of two reasons the one that came nearer to being none.
fn nearer_miss(a: NoTarget, b: NoTarget) -> NoTarget {
    if b as u8 > a as u8 { b } else { a }
}

/// The player's own, where the stick as the view looks leads toward a place and round it; and facing it.
fn led_round(own: Intent, place: DVec3, faces: bool) -> Intent {
    let about = |heading: Heading| match heading {
        Heading::View(stick) => Heading::Around { place, stick },
        other => other,
    };
    let mut led = own.led(about(own.heading), if faces { Face::Point(place) } else { own.face });
    for timed in own.changes() {
        if let Change::Heading(heading) = timed.change {
            led = led.also(Timed { at: timed.at, change: Change::Heading(about(heading)) }).unwrap_or(led);
        }
    }
    led
}
