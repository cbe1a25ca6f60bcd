//! Which way gravity pulls: its own, or what zones make of it; and what follows where that changes.

use glam::{DVec3, Vec3};

use super::{GRID, Run};
use crate::character::Mode;
use crate::command::MOST_PULL;
use crate::math::{carried_over, direction};
use crate::mode::reground;
use crate::outcome::EventKind;
use crate::terrain::Effect;

/// Ups closer than this, radians, are the same: rest is rest.
const SAME: f32 = 1e-6;
/// Gravity weaker than this, as a part of the tuned one, has no direction.
const FAINT: f64 = 1e-6;
/// A turn of gravity by more than this, as a cosine, at one moment is told: on a planet it turns all the time.
const SUDDEN: f32 = 0.97;

impl Run<'_> {
    /// Samples gravity: where zones act at the moments of the grid, so that every tick rate samples the same; and its own at any.
    pub fn sample_gravity(&mut self) {
        let zoned = !self.near.patch.zones().is_empty();
        if (zoned || self.me.clings) && !self.on_grid {
            return;
        }
        let (pull, factor) = if zoned { self.pull_of_zones() } else { (self.own_pull(), 1.0) };
        // A unit vector of single precision is one long but for rounding.
        let strength = Some(pull.length()).filter(|l| (l - 1.0).abs() > 1e-6).unwrap_or(1.0);
        self.me.gravity_factor = (strength.min(f64::from(MOST_PULL)) * factor) as f32;
        if strength > FAINT {
            self.point_up((pull * (-1.0 / strength)).as_vec3());
        }
    }

    /// Its own gravity here.
    fn own_pull(&self) -> DVec3 {
        let weight = self.me.weight.as_dvec3();
        if self.me.clings { self.toward_ground() * weight.length() } else { weight }
    }

    /// The way to whatever it stands on, one long; as before in the air.
    fn toward_ground(&self) -> DVec3 {
        if self.me.mode.is_on_ground() { -self.me.ground.normal.as_dvec3() } else { -self.up() }
    }

    /// What zones make of gravity here, and the factor on that. What is not a number has no effect: the terrain's mistake must not
    /// become the state's.
    fn pull_of_zones(&self) -> (DVec3, f64) {
        let (middle, foot, ground) = (self.near.middle(), self.pivot(), self.toward_ground());
        let (mut pull, mut factor) = (self.own_pull(), 1.0);
        for zone in self.near.patch.zones() {
            let part = zone.part(middle);
            match zone.effect {
                _ if part <= 0.0 || part.is_nan() => {}
                Effect::Gravity(own) if !own.is_nan() => factor *= 1.0 + (f64::from(own).clamp(0.0, 10.0) - 1.0) * part,
                Effect::Pull(other) => {
                    let there = other.at(foot, ground);
                    if there.is_finite() {
                        pull += (there - pull) * part;
                    }
                }
                Effect::Gravity(_) => {}
            }
        }
        (pull, factor)
    }

    /// What stays where it is when up changes.
    pub fn pivot(&self) -> DVec3 {
        self.near.place + (self.me.up * self.near.shape.pivot()).as_dvec3()
    }

    /// Up is this way from now on. The body turns to it later; the middle of its foot's round is where it was.
    fn point_up(&mut self, to: Vec3) {
        if self.me.keeps.is_top_view(self.me.up) {
            return;
        }
        let Some(to) = direction(self.me.keeps.flat(to)) else { return };
        let from = self.me.up;
        if (to - from).length() < SAME {
            return;
        }
        let pivot = self.pivot();
        self.me.facing = carried_over(self.me.facing, from, to, self.me.facing);
        (self.me.up, self.up) = (to, to.as_dvec3().normalize());
        let place = pivot - (to * self.near.shape.pivot()).as_dvec3();
        self.near.lean(to, self.me.axis, place);
        self.leave_foothold();
        let cosine = from.dot(to);
        if cosine < SUDDEN {
            let degrees = libm::acosf(cosine.clamp(-1.0, 1.0)).to_degrees();
            self.report(EventKind::GravityTurned { degrees });
        }
        if self.me.mode != Mode::Air {
            reground(self);
        }
    }

    /// Turns the body upright as far as it turns from one moment of the grid to the next, or as far as there is room.
    pub fn right_itself(&mut self) {
        if self.me.axis == self.me.up || !self.on_grid {
            return;
        }
        let most = f64::from(self.tuning.values().turn.righting.to_radians()) * GRID;
        self.tip_upright(most as f32);
    }
}
