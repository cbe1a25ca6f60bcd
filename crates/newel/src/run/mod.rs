//! A tick under way: the state being moved, what surrounds it, and how much of the tick is left.
//!
//! Read `step.rs` first: it is the order in which these are called.

mod barred;
mod facing;
mod gait;
mod overlap;
mod pace;
pub(crate) mod piece;
pub(crate) mod reach;
mod ride;
pub(crate) mod sensing;
mod shape;
mod slide;
mod steps;
mod timers;
mod trial;
pub(crate) mod water;

use glam::{DVec3, Vec3};

use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::contact::surroundings::Surroundings;
use crate::drive::buttons::{Button, Buttons};
use crate::drive::heading::{Face, Heading};
use crate::drive::intent::{Change, Intent, Timed};
use crate::explain::Seen;
use crate::factors::depends_on_facing;
use crate::law::Laws;
use crate::limits::Limits;
use crate::modifiers::{MOST_SPEED, Modifiers, within_most_speed};
use crate::outcome::{Event, EventKind, Telling};
use crate::phase::{Mode, Phase};
use crate::run::piece::PieceStart;
use crate::run::sensing::Stretch;
pub(crate) use crate::run::trial::Before;
use crate::state::State;
use crate::support::{Ground, Underfoot};
use crate::terrain::Body;
use crate::tuning::Tuning;
use crate::walls::Walls;
use crate::workspace::Lists;

/// Sampling interval of everything that varies with place, seconds of the character's clock.
pub(crate) const GRID: f64 = 1.0 / 120.0;

/// Moments closer than this, seconds, are one.
const ROUNDING: f64 = 1e-9;

/// True where there is a moment of the grid from one time of the clock to just before another.
pub(crate) fn has_grid_moment(from: f64, to: f64) -> bool {
    ((from - ROUNDING) / GRID).ceil() * GRID < to - ROUNDING
}

/// Slower than this, m/s, is at rest.
const LEAST_SPEED: f64 = 1e-6;

/// Ground lost less than this long ago, seconds, has just ended.
const SOON: f64 = 1e-5;

/// After this many landings in one tick it stays in the air for the rest of it.
const MOST_LANDINGS: u8 = 4;

/// And after coming down along what leans this often it leaves the ground instead.
const MOST_LEANS: u8 = 32;

/// Up that has turned by more than this, a cosine, is another: 5 degrees, more than round any planet in one step of the grid.
const SAME_UP: f32 = 0.996;

/// The body stood on.
#[derive(Clone, Copy)]
pub(crate) struct Ride {
    pub body: Body,
    /// Where the middle of the foot's round is in the body's own axes, while it stands still there.
    pub foot: Option<DVec3>,
    /// True while that is where the state has it.
    pub kept: bool,
}

/// A walk that a game's own mode leads.
#[derive(Clone, Copy)]
pub(crate) struct Led {
    /// The flat velocity wanted against what carries it, m/s.
    pub velocity: DVec3,
    /// How fast its velocity changes toward that, m/s².
    pub rate: f64,
}

/// After meeting something this often, each time after less than `HARDLY` seconds, the feet are lifted a hair.
const MOST_FLIPS: u8 = 6;
pub(crate) const HARDLY: f64 = 1e-4;

/// Maximum number of existing contacts resolved before the first sweep: enough for any corner.
pub(crate) const MOST_TOUCHED: u8 = 8;

pub(crate) struct Run<'a> {
    pub near: Surroundings<'a>,
    pub me: State,
    /// The ground in this slice. The state takes it over at the end.
    pub ground: Ground,
    /// When in this tick that was found, seconds.
    pub ground_since: f64,
    /// True where up has turned by more than `SAME_UP` since then: heights along the new up do not tell a step from the old ground.
    pub up_was_other: bool,
    /// Where, and when in this tick, what it is rolling up onto was met.
    pub step_met: Option<(DVec3, f64)>,
    pub tuning: &'a Tuning,
    pub modifiers: &'a Modifiers,
    /// Limits of ground to land on.
    pub limits: Limits,
    /// Limits of ground to stay on.
    pub staying: Limits,
    /// Walls touched so far in this tick.
    pub walls: Walls,
    /// The body that carries it, if one does.
    pub ride: Option<Ride>,
    /// How fast it is carried, m/s; while on the ground the velocity of `me` is its own, against that.
    pub carried: DVec3,
    /// Its own velocity while the game moves it, rather than itself.
    pub displaced: Option<DVec3>,
    /// How a game's own mode wants it to walk, while that does.
    pub led: Option<Led>,
    /// How the piece under way began.
    pub piece: PieceStart,
    /// How often what is touched already may still be met before the first move; none once all of it has been.
    pub unmet: u8,
    /// Readout data beside the state.
    pub told: Telling,
    /// When in this tick it was last found caught between what closes in.
    caught_at: Option<f64>,
    /// Landings so far in this tick.
    landings: u8,
    /// Times in this tick that it came down along what leans.
    pub leans: u8,
    /// Where the ground last ended in this tick, and when.
    pub lost_at: Option<(DVec3, f64)>,
    /// True where its intent wants never to walk off an edge.
    pub wants_guard: bool,
    /// True while it walks guarded, and the place at a lip where it was held back or stepped to.
    pub guarded: bool,
    pub lip_at: Option<DVec3>,
    /// The place at a lip where the guard kept it from going on as it wanted.
    pub held_at: Option<DVec3>,
    /// Times that something was met since time last passed.
    flips: u8,
    /// Buttons that went down at this very moment.
    pub pressed: Buttons,
    /// True where another stance is asked for at this very moment.
    pub asked_now: bool,
    /// True where the game took it out of its own mode, which has yet to hear of it.
    pub custom_over: bool,
    /// True at a moment of the grid.
    pub on_grid: bool,
    /// When in this tick the place was last sampled, seconds of the clock: once at each moment of the grid.
    pub place_sampled: Option<f64>,
    pub heading: Heading,
    pub view: Vec3,
    pub face: Face,
    changes: &'a [Timed],
    next_change: usize,
    now: f64,
    dt: f64,
    up: DVec3,
    pub start_clock: f64,
    /// True where nothing is decided at its end: it is only looked at there, or what is wanted changes.
    pub is_cut: bool,
    pub events: &'a mut Vec<Event>,
    /// The way it has gone in this tick.
    pub stretches: &'a mut Vec<Stretch>,
    /// The closed laws of its pieces.
    pub laws: &'a mut Laws,
}

impl<'a> Run<'a> {
    #[inline]
    pub fn new(
        near: Surroundings<'a>,
        Lists { events, stretches, laws }: Lists<'a>,
        me: State,
        tuning: &'a Tuning,
        modifiers: &'a Modifiers,
        (intent, changes): (&Intent, &'a [Timed]),
        dt: f64,
    ) -> Run<'a> {
        let limits = tuning.limits_in(me.stance);
        let me = State { activity: me.activity.of_mode(me.mode), ..me };
        let mut run = Run {
            near,
            me,
            ground: me.ground.ground(me.position),
            ground_since: 0.0,
            up_was_other: false,
            step_met: None,
            tuning,
            modifiers,
            limits,
            staying: limits,
            walls: Walls::default(),
            ride: None,
            carried: me.carried.as_dvec3(),
            displaced: None,
            led: None,
            piece: PieceStart::default(),
            unmet: MOST_TOUCHED,
            told: Telling::default(),
            caught_at: None,
            landings: 0,
            leans: 0,
            lost_at: None,
            wants_guard: intent.guard,
            guarded: false,
            lip_at: None,
            held_at: None,
            flips: 0,
            pressed: Buttons::NONE,
            asked_now: false,
            custom_over: false,
            on_grid: false,
            place_sampled: None,
            heading: intent.heading,
            view: intent.view,
            face: intent.face,
            changes,
            next_change: 0,
            now: 0.0,
            dt,
            up: me.up.as_dvec3().normalize(),
            start_clock: me.clock,
            is_cut: false,
            events,
            stretches,
            laws,
        };
        run.note_stretch(0.0, me.position, me.velocity);
        for &button in Button::ALL {
            run.set_button(button, intent.buttons.has(button));
        }
        run.ask_for(intent.stance);
        (run.limits, run.staying) = shape::limits(&run, me.stance);
        run
    }

    // --- decide -----------------------------------------------------------------------------------------------

    /// Makes the next change of intent that is due now; false where none is.
    pub fn take_change(&mut self) -> bool {
        let next = self.changes.get(self.next_change).copied();
        let Some(timed) = next.filter(|c| c.at <= self.now) else { return false };
        match timed.change {
            Change::Heading(heading) => self.heading = heading,
            Change::View(view) => self.view = view,
            Change::Face(face) => self.face = face,
            Change::Button(button, down) => self.set_button(button, down),
            Change::Stance(stance) => self.ask_for(stance),
            Change::Guard(on) => self.wants_guard = on,
        }
        self.next_change += 1;
        true
    }

    /// True where something changes as it begins.
    pub fn changes_at_once(&self) -> bool {
        self.changes.first().is_some_and(|timed| timed.at <= 0.0)
    }

    fn set_button(&mut self, button: Button, down: bool) {
        if down && !self.me.held.has(button) {
            self.pressed = self.pressed.with(button, true);
        }
        self.me.held = self.me.held.with(button, down);
    }

    /// Samples what varies with the facing, if this moment is one of the grid's.
    pub fn sample(&mut self) {
        let clock = self.clock();
        self.on_grid = ((clock / GRID).round() * GRID - clock).abs() < ROUNDING || self.me.clock == 0.0;
        let on_grid = self.on_grid;
        if on_grid || !self.samples_facing() {
            self.me.turned = 0.0;
        }
    }

    /// True where motion depends on where the body looks, or where it is to look on where it is.
    fn samples_facing(&self) -> bool {
        let steers = matches!(self.heading, Heading::TurnAndGo(stick) if stick.x != 0.0 && stick.y != 0.0);
        steers
            || matches!(self.heading, Heading::Body(_))
            || matches!(self.face, Face::Point(_))
            || depends_on_facing(&self.me, self.tuning, self.face)
    }

    /// True where edges are got up onto, or over, as it walks into them.
    pub fn seeks_ledges(&self) -> bool {
        let values = self.tuning.values();
        (values.ledge.is_some() || values.vault.is_some()) && self.modifiers.can_use_ledges
    }

    /// True where it walks against what moves past, and looks for edges on it.
    pub fn presses_what_moves_past(&self) -> bool {
        self.me.mode == Mode::Ground && self.seeks_ledges() && self.walls.iter().any(|c| self.moves_past(c))
    }

    /// True where a wall moves past it, or it is carried past that.
    pub fn moves_past(&self, contact: &Contact) -> bool {
        contact.velocity != self.carried
    }

    /// Seconds from now to the next moment at which something is known to change.
    pub fn time_to_change(&self) -> f64 {
        let change = self.changes.get(self.next_change);
        let mut end = change.map_or(self.dt, |c| c.at.min(self.dt)).min(self.now + self.next_timer());
        let hovers = self.me.mode == Mode::Hover;
        let placed = hovers
            || matches!(self.heading, Heading::To { .. } | Heading::Around { .. })
            || self.me.mode == Mode::Swim
            || self.me.mode.holds_on()
            || self.me.mode == Mode::Custom
            || self.seeks_hold()
            || self.presses_what_moves_past()
            || !self.near.patch.zones().is_empty()
            || !self.me.flow.is_zero()
            || !self.me.immersed.is_zero()
            || self.me.marks.under_water()
            || self.me.marks.clings()
            || self.me.axis != self.me.up
            || self.is_caught();
        if placed || self.samples_facing() || self.me.asked.waits() || self.steers_slide() {
            let next = ((self.clock() + ROUNDING) / GRID).floor() + 1.0;
            end = end.min(next * GRID - self.start_clock);
        }
        // A remainder from rounding is no piece: the moment at which the next slice begins would be sampled twice.
        let end = if self.dt - end < ROUNDING { self.dt } else { end };
        (end - self.now).max(0.0)
    }

    /// A piece of the tick begins: whoever listens is told, and its way is measured from here.
    pub fn begin_piece(&mut self, span: f64) {
        self.pass_one_way();
        self.note_piece_start();
        self.laws.note(&self.me);
        let (mode, velocity, ground) = (self.me.mode, self.me.velocity + self.carried, self.ground);
        self.near.tell(|_| Seen::Piece { mode, velocity, ground, span });
    }

    /// Selects the one-way floors that exist for the present mode and phase.
    pub fn pass_one_way(&mut self) {
        self.near.pass_one_way(self.me.phase == Phase::DropsThrough, self.me.is_on_ground());
    }

    /// Tells whoever listens what `planes` leave of a velocity that was wanted.
    pub fn tell_pressed(&mut self, planes: &Planes, wanted: DVec3, left: DVec3) {
        if !planes.normals().is_empty() {
            self.near.tell(|_| Seen::Pressed { planes: planes.iter().collect(), wanted, left });
        }
    }

    // --- move and settle --------------------------------------------------------------------------------------

    /// The mode has moved for `used` of the `span` seconds it was given: time passes, feet come down, the body turns.
    pub fn pass(&mut self, used: f64, span: f64) {
        let used = used.clamp(0.0, span);
        let from = self.now;
        self.note_law(used);
        if used > HARDLY {
            self.flips = 0;
        }
        self.hold_speed();
        self.pressed = Buttons::NONE;
        if used > 0.0 {
            self.on_grid = false;
        }
        self.turn_with_ride(used);
        self.turn(used);
        self.walk_gait(used);
        self.count_slide(used);
        self.ease_eyes(used);
        // The last piece ends at the tick's end to the bit, however its pieces round.
        self.now = if used >= self.time_left() { self.dt } else { self.now + used };
        self.near.set_time(self.now);
        self.note_stretch(from, self.piece.from, self.piece.velocity);
        self.count_down(used);
        self.laws.note(&self.me);
    }

    /// Neither faster than anything may be, with what carries it, nor moving by a mere rounding.
    fn hold_speed(&mut self) {
        let (own, carried) = (self.me.velocity, self.carried);
        if own.length() < LEAST_SPEED {
            self.me.velocity = DVec3::ZERO;
        } else if (own + carried).length_squared() > MOST_SPEED * MOST_SPEED {
            self.me.velocity = within_most_speed(own + carried) - carried;
        }
    }

    /// Too much happened: the rest of the tick is dropped in place.
    pub fn drop_rest(&mut self) {
        let seconds = self.time_left() as f32;
        self.report(EventKind::TimeDropped { seconds });
    }

    // --- what modes ask ---------------------------------------------------------------------------------------

    /// Whether it may land here, once more in this tick: between surfaces that carry only just and not quite, landing and
    /// slipping would take turns for ever; and where, or when, the ground has just ended there is none: another shape in the air
    /// would land, and the one it has on the ground leave again.
    pub fn may_land(&mut self) -> bool {
        let near = 2.0 * f64::from(self.near.shape.touching());
        let (place, now) = (self.near.place, self.near.time());
        let here = self.lost_at.is_some_and(|(lost, when)| (lost - place).length() < near || now - when < SOON);
        if here {
            return false;
        }
        self.landings += 1;
        self.landings <= MOST_LANDINGS
    }

    /// Whether it may once more in this tick come down along what leans: between that and a heading that leads back up, the
    /// two would take turns for ever.
    pub fn may_lean(&mut self) -> bool {
        self.leans = self.leans.saturating_add(1);
        self.leans <= MOST_LEANS
    }

    /// Counts that something was met.
    pub fn flip(&mut self) {
        self.flips = self.flips.saturating_add(1);
    }

    /// True where it has met one thing after another, and time hardly passed.
    pub fn is_to_and_fro(&self) -> bool {
        self.flips >= MOST_FLIPS
    }

    /// True, once, where it meets one thing after another and time hardly passes.
    pub fn flickers(&mut self) -> bool {
        let flickers = self.flips > MOST_FLIPS;
        if flickers {
            self.flips = 0;
        }
        flickers
    }

    /// Seconds of the tick that are left.
    pub fn time_left(&self) -> f64 {
        self.dt - self.now
    }

    /// True where a piece of `used` seconds from now ends only because the slice does.
    pub fn ends_in_a_cut(&self, used: f64) -> bool {
        self.is_cut && used >= self.time_left()
    }

    /// The tick's length, seconds.
    pub fn dt(&self) -> f64 {
        self.dt
    }

    /// Seconds into the tick.
    pub fn now(&self) -> f64 {
        self.now
    }

    /// The character's clock now.
    pub fn clock(&self) -> f64 {
        self.start_clock + self.now
    }

    /// Up in double precision, where it is one long: what is flattened by it is flat, however fast it is.
    pub fn up(&self) -> DVec3 {
        self.up
    }

    /// Up is this way from now on, and the feet are at `place`.
    pub fn set_up(&mut self, up: Vec3, place: DVec3) {
        self.up_was_other |= up.dot(self.me.up) < SAME_UP;
        (self.me.up, self.up) = (up, up.as_dvec3().normalize());
        self.near.lean(up, self.me.axis, place);
        self.leave_foothold();
    }

    /// Records that the feet were moved up or down at once.
    pub fn stepped(&mut self, height: f32) {
        self.told.stepped += height;
    }

    /// Records that the character was put somewhere else.
    pub fn cut(&mut self) {
        self.report(EventKind::Teleported);
    }

    /// Records that something happened now.
    pub fn report(&mut self, kind: EventKind) {
        self.report_at(self.displaced.unwrap_or(self.me.velocity) + self.carried, kind);
    }

    /// Records that something happened now, at this velocity in the world.
    pub fn report_at(&mut self, velocity: DVec3, kind: EventKind) {
        // A displacement takes no time.
        let time = self.start_clock + if self.displaced.is_some() { self.now } else { self.near.time() };
        self.events.push(Event { time, place: self.near.place, velocity: within_most_speed(velocity), kind });
    }

    // --- report -----------------------------------------------------------------------------------------------

    /// The state at the tick's end, and what is told beside it.
    pub fn finish(mut self) -> (State, Telling) {
        self.tell_water();
        self.told.barred = self.barred();
        self.note_ride();
        self.me.position = self.me.keeps.held(self.near.place, self.me.position);
        self.me.ground = Underfoot::of(&self.ground, self.me.position);
        self.me.clock = self.start_clock + self.dt;
        self.me.walls = self.walls.known();
        (self.me, self.told)
    }
}
