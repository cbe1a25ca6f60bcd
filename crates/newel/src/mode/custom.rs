//! A game's own mode: asked whether it begins, and handed the character while it lasts, with the same tools as the modes here.

use glam::{DVec3, Vec3};

use super::mover::{self, Law, Policy};
use super::transitions::{enter_by_ground, take_off_into};
use super::{holding, slide, stance};
use crate::contact::arcs::Path;
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::drive::buttons::{Button, Buttons};
use crate::math::{direction, flatten};
use crate::modifiers::Modifiers;
use crate::motion::swing::Swing;
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::Mode;
use crate::run::Run;
use crate::stance::Stance;
use crate::state::State;
use crate::terrain::RayHit;
use crate::tuning::Tuning;

/// The pieces that one call of [`ModeCx::slide`] moves in at most.
const MOST_PIECES: u32 = 64;

/// A game's own mode. What it keeps is the character's [`custom`](crate::Character::custom): typed, saved, compared and hashed with
/// it. A tick that fails leaves that as it was, too.
///
/// It is asked at the moments at which every mode is: at each change of the intent and each moment of the grid of 1/120 s, so that it
/// does the same at every tick rate. `examples/rope.rs` is one.
///
/// ```
/// use newel::{Button, Character, CustomMode, Intent, Mode, ModeCx, Modifiers, Next, Tick, Tuning, Workspace};
///
/// /// Stands in the air where it is for as long as the grab button is held.
/// #[derive(Clone, Copy, Default)]
/// struct Freeze;
/// impl CustomMode for Freeze {
///     fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
///         cx.pressed(Button::Grab)
///     }
///     fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
///         cx.set_velocity(glam::DVec3::ZERO);
///         if cx.held(Button::Grab) { Next::Stay } else { Next::Leave }
///     }
/// }
/// # let level = newel::Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
/// # let tuning = Tuning::walker();
/// let mut hero = Character::spawn_with(&level, &tuning, [0.0, 3.0, 0.0], Freeze)?;
/// let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
/// let tick = Tick { number: 0, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 0.1 };
/// tick.step(&mut work, &mut hero, &Intent::default().hold(Button::Grab), &[])?;
/// assert_eq!((hero.mode, hero.position.y), (Mode::Custom, 3.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub trait CustomMode {
    /// Whether it moves the character from now on: asked while another mode does.
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        let _ = cx;
        false
    }

    /// Moves the character for [`ModeCx::span`] seconds, by [`ModeCx::slide`] or not at all.
    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next;

    /// It no longer moves the character, whatever ended it.
    fn ended(&mut self) {}

    /// True where it need not be asked about a character that stands still without input: standing then costs next to nothing.
    fn lets_rest(&self) -> bool {
        false
    }
}

/// No mode of a game's own.
impl CustomMode for () {
    fn advance(&mut self, _cx: &mut ModeCx<'_, '_>) -> Next {
        Next::Leave
    }

    fn lets_rest(&self) -> bool {
        true
    }
}

/// The mode after a piece of a game's own mode.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Next {
    /// It goes on.
    Stay,
    /// It is over, before this piece if nothing was moved in it: on the ground if there is any underfoot, or in the air.
    Leave,
}

/// A character under way in a tick, as a game's own mode sees and moves it.
pub struct ModeCx<'c, 'r> {
    run: &'c mut Run<'r>,
    span: f64,
    used: Option<f64>,
    rate: DVec3,
    tether: Option<Tether>,
}

/// A constraint that keeps the middle of the character within a distance of a place.
#[derive(Clone, Copy)]
struct Tether {
    hook: DVec3,
    length: f64,
}

/// A contact of a game's own mode.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Met {
    /// Unit normal of it, toward the character.
    pub normal: Vec3,
    /// The surface number of the obstacle.
    pub surface: u16,
    /// The game's own name of the body it belongs to; 0 is the world.
    pub body: u64,
    /// How it moves there, m/s.
    pub velocity: DVec3,
}

impl<'r> ModeCx<'_, 'r> {
    fn new<'c>(run: &'c mut Run<'r>, span: f64) -> ModeCx<'c, 'r> {
        ModeCx { run, span, used: None, rate: DVec3::ZERO, tether: None }
    }

    /// The state as it is now; its position is that of the tick's start: see [`ModeCx::place`].
    #[must_use]
    pub fn state(&self) -> &State {
        &self.run.me
    }

    /// The numbers a designer set.
    #[must_use]
    pub fn tuning(&self) -> &Tuning {
        self.run.tuning
    }

    /// The modifiers in effect.
    #[must_use]
    pub fn modifiers(&self) -> &Modifiers {
        self.run.modifiers
    }

    /// Seconds that this piece lasts at most; 0 while it is asked whether it begins.
    #[must_use]
    pub fn span(&self) -> f64 {
        self.span
    }

    /// The character's own time now, seconds.
    #[must_use]
    pub fn clock(&self) -> f64 {
        self.run.clock()
    }

    /// Where the feet are now, metres.
    #[must_use]
    pub fn place(&self) -> DVec3 {
        self.run.near.place
    }

    /// Where the middle of the character is now, metres.
    #[must_use]
    pub fn middle(&self) -> DVec3 {
        self.run.near.middle()
    }

    /// Its velocity in the world, m/s.
    #[must_use]
    pub fn velocity(&self) -> DVec3 {
        self.run.me.velocity + self.run.carried
    }

    /// Unit vector against gravity.
    #[must_use]
    pub fn up(&self) -> DVec3 {
        self.run.up()
    }

    /// Acceleration of a fall here, m/s².
    #[must_use]
    pub fn gravity(&self) -> DVec3 {
        let strength = f64::from(self.run.modifiers.gravity) * f64::from(self.run.me.gravity_factor);
        self.run.up() * -(self.run.tuning.falling_gravity() * strength)
    }

    /// How far the surface of the water is over its feet along up, metres; negative under them, and `None` without any water near.
    #[must_use]
    pub fn water(&self) -> Option<f64> {
        self.run.waterline().map(|line| line.depth)
    }

    /// The view direction of the player: a unit vector, in the world.
    #[must_use]
    pub fn view(&self) -> Vec3 {
        self.run.view
    }

    /// The first hit of a ray of `length` metres from a place, along a unit vector. `None` for a floor passed from below, and for arguments
    /// that are not finite, not positive or not a unit vector.
    #[must_use]
    pub fn cast(&self, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let makes_sense = from.is_finite() && along.is_normalized() && length.is_finite() && length > 0.0;
        makes_sense.then(|| self.run.near.ray(from, along, length))?
    }

    /// The height of the feet over the terrain straight below, metres; `None` if there is nothing within `depth` metres.
    #[must_use]
    pub fn height_over_ground(&self, depth: f64) -> Option<f64> {
        (depth.is_finite() && depth > 0.0).then(|| self.run.near.height_over_ground(depth))?
    }

    /// Where the player wants to go: square to up, at most one long.
    #[must_use]
    pub fn heading(&self) -> Vec3 {
        self.run.heading_flat()
    }

    /// True where the button went down at this very moment.
    #[must_use]
    pub fn pressed(&self, button: Button) -> bool {
        self.run.pressed.has(button)
    }

    /// True while the button is down.
    #[must_use]
    pub fn held(&self, button: Button) -> bool {
        self.run.me.held.has(button)
    }

    /// Its velocity in the world is this from now on, m/s; what is not a number changes nothing.
    pub fn set_velocity(&mut self, velocity: DVec3) {
        if velocity.is_finite() {
            self.run.me.velocity = self.run.me.keeps.flat64(velocity);
        }
    }

    /// Looks this way from now on; only the part square to up counts.
    pub fn look(&mut self, way: Vec3) {
        if let Some(way) = direction(flatten(way, self.run.me.up)) {
            self.run.me.facing = way;
        }
    }

    /// Changes the stance, with the feet in place. Returns false if the stance is not tuned or has no room. Nothing else changes the
    /// stance while a game's own mode is active.
    pub fn take_stance(&mut self, stance: Stance) -> bool {
        let is_tuned = stance == Stance::Stand || self.run.tuning.low(stance).is_some();
        is_tuned && (self.run.me.stance == stance || stance::change(self.run, stance).is_ok())
    }

    /// Reports an event of the game's own at this moment: [`EventKind::CustomTold`].
    pub fn tell(&mut self, what: u32) {
        self.run.report(EventKind::CustomTold { what });
    }

    /// It is driven this way in this piece, m/s²; what is not a number drives nowhere.
    pub fn accelerate(&mut self, rate: DVec3) {
        if rate.is_finite() {
            self.rate += self.run.me.keeps.flat64(rate);
        }
    }

    /// Its middle stays within `length` metres of `hook` in this piece, as on a rope: taut it swings, and keeps its energy.
    pub fn tether(&mut self, hook: DVec3, length: f64) {
        if hook.is_finite() && length.is_finite() && length > 0.0 {
            self.tether = Some(Tether { hook, length });
        }
    }

    /// Moves the character by its velocity and acceleration for the whole piece, along any walls; returns the first contact. Call it once
    /// a piece; a second call does nothing. Only crushing, or over 64 contacts, ends the piece early.
    pub fn slide(&mut self) -> Option<Met> {
        if self.used.is_some() || self.span <= 0.0 {
            return None;
        }
        let mut driven = Driven { rate: self.rate, tether: self.tether, span: self.span, met: None };
        self.used = Some(driven.go(self.run, self.run.now() + self.span));
        driven.met
    }
}

impl Tether {
    /// The vector from the hook, if the rope is taut within `span` seconds at this velocity and acceleration.
    fn taut(&self, run: &Run<'_>, velocity: DVec3, rate: DVec3, span: f64) -> Option<DVec3> {
        let out = run.near.middle() - self.hook;
        let ahead = out + velocity * span + rate * (0.5 * span * span);
        (out.length() > 1e-3 && ahead.length() > self.length).then_some(out)
    }

    /// Draws the character in to the length of the rope, as far as there is room, and removes outward velocity.
    fn draw_in(&self, run: &mut Run<'_>) {
        let out = run.near.middle() - self.hook;
        let reach = out.length();
        if reach > self.length {
            let out = out / reach;
            run.near.push((out * (self.length - reach)).as_vec3());
            let leading = run.me.velocity.dot(out);
            if leading > 0.0 {
                run.me.velocity -= out * leading;
            }
        }
    }
}

/// The policy of a game's own mode.
struct Driven {
    rate: DVec3,
    tether: Option<Tether>,
    span: f64,
    met: Option<Met>,
}

/// The law of a game's own mode: straight on, or round a hook.
struct Drive {
    velocity: DVec3,
    rate: DVec3,
    /// The vector from the hook to the middle of the character, if the rope is taut.
    out: Option<DVec3>,
}

impl Driven {
    /// Moves the character until `end`; returns the seconds of the last piece.
    fn go(&mut self, run: &mut Run<'_>, end: f64) -> f64 {
        let mut pieces = 0;
        loop {
            pieces += 1;
            self.span = end - run.now();
            let used = mover::advance(run, self, self.span);
            if let Some(tether) = &self.tether {
                tether.draw_in(run);
            }
            // The tick bounds how often it asks, so this returns to it in the end.
            if used >= self.span || run.is_caught() || pieces == MOST_PIECES {
                return used;
            }
            run.pass(used, self.span);
            run.begin_piece(end - run.now());
        }
    }
}

impl Policy for Driven {
    type Law = Drive;

    fn law(&mut self, run: &mut Run<'_>, velocity: DVec3, _: &Planes) -> Drive {
        let out = self.tether.and_then(|tether| tether.taut(run, velocity, self.rate, self.span));
        Drive { velocity, rate: self.rate, out }
    }

    fn met(&mut self, run: &mut Run<'_>, contact: &Contact) {
        self.met.get_or_insert_with(|| {
            // A later gather numbers the bodies anew.
            let body = run.near.patch.body(contact.body).id;
            Met { normal: contact.normal, surface: contact.surface, body, velocity: contact.velocity }
        });
        run.slide_along(contact);
    }
}

impl Drive {
    fn swing(&self, span: f64) -> Option<Swing> {
        self.out.map(|out| Swing::new(out, self.velocity, self.rate, span))
    }
}

impl Law for Drive {
    /// Round a hook: the part of the acceleration that the rope allows, and the centripetal acceleration.
    fn rate(&self) -> DVec3 {
        self.out.map_or(self.rate, |out| {
            let along = out / out.length();
            self.rate - along * self.rate.dot(along) + Swing::new(out, self.velocity, DVec3::ZERO, 0.0).inward()
        })
    }

    fn lasts(&self) -> f64 {
        f64::INFINITY
    }

    /// Round a hook: half the acceleration, the arc at constant speed, and the other half.
    fn path(&self, velocity: DVec3, span: f64) -> Path {
        match self.swing(span) {
            Some(swing) => Path { velocity: swing.velocity, rate: swing.inward(), span },
            None => Path { velocity, rate: self.rate, span },
        }
    }

    fn end(&self, path: &Path, used: f64) -> (DVec3, Option<DVec3>) {
        match self.swing(path.span).filter(|_| used == path.span).zip(self.out) {
            Some((swing, out)) => {
                let (to, velocity) = swing.end();
                (velocity, Some(to - out))
            }
            None => (path.velocity_at(used), None),
        }
    }
}

/// Asks whether it begins, while another mode moves the character.
pub(super) fn decide(run: &mut Run<'_>, custom: &mut dyn CustomMode) {
    if core::mem::take(&mut run.custom_over) {
        custom.ended();
    }
    if run.me.mode == Mode::Custom || run.is_locked() || run.displaced.is_some() {
        return;
    }
    if custom.begins(&ModeCx::new(run, 0.0)) {
        begin(run);
    }
}

/// From now on it moves the character.
pub(super) fn begin(run: &mut Run<'_>) {
    slide::interrupt(run);
    if run.me.mode.holds_on() {
        holding::end(run, HoldEnd::Interrupted);
    }
    take_off_into(run, Mode::Custom);
    run.in_control();
    // The press that began the mode does not end it at once.
    run.pressed = Buttons::NONE;
    run.report(EventKind::CustomBegan);
}

/// Lets it move the character for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, custom: &mut dyn CustomMode, span: f64) -> f64 {
    let mut cx = ModeCx::new(run, span);
    let next = custom.advance(&mut cx);
    let used = cx.used;
    // `after` is called where a piece ends, and not where a tick reads or an intent changes.
    let is_cut = used.is_some_and(|used| used > 0.0 && run.ends_in_a_cut(used));
    if next == Next::Stay || is_cut {
        return used.unwrap_or(span);
    }
    custom.ended();
    run.report(EventKind::CustomEnded);
    enter_by_ground(run);
    used.unwrap_or(0.0)
}

/// The game does something else with it.
pub(super) fn interrupt(run: &mut Run<'_>) {
    if run.me.mode == Mode::Custom {
        run.report(EventKind::CustomEnded);
        run.custom_over = true;
        super::transitions::enter(run, Mode::Air);
    }
}
