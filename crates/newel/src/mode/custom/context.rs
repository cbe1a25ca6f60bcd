//! What a game's own mode sees of the character, and the calls by which it moves it.

use glam::{DVec3, Vec3};

use super::free::{Driven, Tether};
use super::walk;
use crate::drive::buttons::Button;
use crate::math::{direction, flatten};
use crate::mode::ground::{flat_velocity, lift};
use crate::mode::stance;
use crate::mode::transitions::take_off_into;
use crate::modifiers::Modifiers;
use crate::outcome::EventKind;
use crate::phase::Mode;
use crate::run::{Led, Run};
use crate::stance::Stance;
use crate::state::State;
use crate::terrain::RayHit;
use crate::tuning::Tuning;

/// A character under way in a tick, as a game's own mode sees and moves it.
pub struct ModeCx<'c, 'r> {
    run: &'c mut Run<'r>,
    span: f64,
    /// The seconds that it has moved for, once it has.
    pub(super) used: Option<f64>,
    rate: DVec3,
    tether: Option<Tether>,
    /// True where its velocity has been set in this piece.
    is_written: bool,
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
    pub(super) fn new<'c>(run: &'c mut Run<'r>, span: f64) -> ModeCx<'c, 'r> {
        ModeCx { run, span, used: None, rate: DVec3::ZERO, tether: None, is_written: false }
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

    /// What it stands on while it walks (see [`ModeCx::walk`]); `None` off the ground.
    #[must_use]
    pub fn ground(&self) -> Option<Met> {
        let ground = &self.run.ground;
        self.run.me.is_on_ground().then_some(Met {
            normal: ground.normal,
            surface: ground.surface,
            body: ground.body,
            velocity: self.run.carried,
        })
    }

    /// Its velocity in the world is this from now on, m/s; what is not a number changes nothing.
    pub fn set_velocity(&mut self, velocity: DVec3) {
        if velocity.is_finite() {
            self.run.me.velocity = self.run.me.keeps.flat64(velocity) - self.run.carried;
            self.is_written = true;
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

    /// Moves the character by its velocity and acceleration for the whole piece, along any walls; returns the first contact. Call
    /// [`ModeCx::slide`] or [`ModeCx::walk`] once a piece; a second call does nothing. Only crushing, or over 64 contacts, ends the
    /// piece early.
    pub fn slide(&mut self) -> Option<Met> {
        if self.used.is_some() || self.span <= 0.0 {
            return None;
        }
        if self.run.me.is_on_ground() {
            let velocity = self.velocity();
            take_off_into(self.run, Mode::Custom);
            if self.is_written {
                // Who leaves a carrier keeps a tuned part of its velocity; who set a velocity has that.
                self.run.me.velocity = velocity;
            }
        }
        let mut driven = Driven { rate: self.rate, tether: self.tether, span: self.span, met: None };
        self.used = Some(driven.go(self.run, self.run.now() + self.span));
        driven.met
    }

    /// Walks along the ground for the whole piece: over slopes and steps, past walls, down as far as a step, and carried by what
    /// moves underfoot, as in [`Mode::Ground`].
    ///
    /// `velocity` is the wanted velocity along the ground against what carries it, m/s: as fast as it is long, the way that its part
    /// square to up points. The velocity changes toward it by `rate`, m/s²; what [`ModeCx::set_velocity`] has set is laid along the
    /// ground first. The limits of slopes and steps are the tuning's; heading, sprint, surface and modifiers do not act on it.
    ///
    /// Returns true if ground carried it to the end of the piece. False with no ground underfoot, or with an argument that is not finite
    /// or a negative rate: nothing has moved then, and
    /// [`ModeCx::slide`] may be called. False also where the ground ended within the piece: it is asked again from that moment on.
    pub fn walk(&mut self, velocity: DVec3, rate: f64) -> bool {
        let makes_sense = velocity.is_finite() && rate.is_finite() && rate >= 0.0;
        if self.used.is_some() || self.span <= 0.0 || !makes_sense || !walk::stands(self.run) {
            return false;
        }
        let up = self.run.up();
        if self.is_written {
            let flat = flat_velocity(self.run.me.velocity, up);
            self.run.me.velocity = lift(flat, self.run.ground.normal, self.run.me.up);
        }
        let velocity = self.run.me.keeps.flat64(flat_velocity(velocity, up));
        self.used = Some(walk::go(self.run, Led { velocity, rate }, self.run.now() + self.span));
        self.run.me.is_on_ground()
    }
}
