//! How fast it wants to go: the heading times everything that multiplies, combined in one place.

use glam::{DVec3, Vec3};

use crate::drive::heading::{Bearings, Heading, THERE};
use crate::factors::{Factors, depends_on_way, sampled_facing, way_factor};
use crate::math::flatten64;
use crate::modifiers::MOST_SPEED;
use crate::phase::{Mode, Phase};
use crate::run::{GRID, Run};
use crate::terrain::Footing;

/// So many steps of the grid from a place it is all but there.
const CLOSE: f64 = 8.0;

/// The factor of the slope on the top speed in that direction.
fn slope_factor(run: &Run<'_>, wish: DVec3) -> f32 {
    let ground = run.tuning.values().ground;
    let (normal, up) = (run.ground.normal.as_dvec3(), run.up());
    let steepest = f64::from(1.0 - run.limits.least_up * run.limits.least_up).sqrt();
    if (ground.uphill == 1.0 && ground.downhill == 1.0) || steepest == 0.0 {
        return 1.0;
    }
    let rise = -wish.dot(normal) / normal.dot(up);
    let sine = rise / (rise * rise + wish.length_squared()).sqrt();
    let full = f64::from(if sine > 0.0 { ground.uphill } else { ground.downhill });
    (1.0 + (full - 1.0) * (sine.abs() / steepest).min(1.0)) as f32
}

/// Of all it could stop from, so much is wanted where it goes to a place off the ground: the rest makes up for looking but now and then.
const SPARE: f64 = 0.6;
/// So many steps of the grid is the time in which the last of the way to it is gone, by a part of what is left in each.
const LAST: f64 = 4.0;

impl Run<'_> {
    /// Where the player wants to go: square to up, at most one long.
    pub fn heading_flat(&self) -> Vec3 {
        let leads_to_a_place = self.leads_to_a_place();
        if leads_to_a_place && self.is_there() {
            return Vec3::ZERO;
        }
        let facing = sampled_facing(&self.me);
        let place = if leads_to_a_place { self.place_sampled_from() } else { self.near.place };
        let bearings = Bearings { facing, place, ..Bearings::of(&self.me, self.view, self.tuning) };
        bearings.flat(self.heading)
    }

    /// True where the heading depends on where the character is.
    pub fn leads_to_a_place(&self) -> bool {
        matches!(self.heading, Heading::To { .. } | Heading::Around { .. })
    }

    /// The same before it is laid square to up.
    pub fn heading_in_space(&self) -> Vec3 {
        Bearings::of(&self.me, self.view, self.tuning).in_space(self.heading)
    }

    /// True where it has come to the place it is heading to.
    fn is_there(&self) -> bool {
        self.way_left().is_some_and(|way| way.length() < THERE)
    }

    /// The way that is left to the place it is heading to, over the map, metres; `None` where it is heading to none.
    pub fn way_left(&self) -> Option<DVec3> {
        let Heading::To { place, .. } = self.heading else { return None };
        if self.led.is_some() {
            return None;
        }
        Some(self.me.keeps.over_map(place - self.near.place, self.up()))
    }

    /// Where it was at the last moment of the grid, as near as its velocity tells: so that the way to a place is the same at every tick
    /// rate. Where it goes straight there, that is on the way; where it is all but there, it is where it is.
    fn place_sampled_from(&self) -> DVec3 {
        let velocity = self.me.velocity + self.carried;
        let gone = velocity * self.since_grid();
        if matches!(self.heading, Heading::Around { .. }) {
            // As it will be half a step of the grid on: a circle then stays one.
            return self.near.place - gone + velocity * (0.5 * GRID);
        }
        let close = self.way_left().is_none_or(|left| left.length() < CLOSE * self.me.velocity.length() * GRID);
        if close { self.near.place } else { self.near.place - gone }
    }

    /// The same in double precision: what is left of a heading that leads all but along up is square to it too.
    pub fn heading_level(&self) -> DVec3 {
        flatten64(self.heading_flat().as_dvec3(), self.up())
    }

    /// The velocity that heading asks for, square to up.
    pub fn wish(&mut self) -> DVec3 {
        if let Some(led) = self.led {
            self.told.speed_factors = Factors::default();
            return led.velocity;
        }
        let (heading, blown) = (self.heading_flat(), self.blown());
        if heading == Vec3::ZERO {
            self.told.speed_factors = Factors::default();
            // At its place the character resists the wind; otherwise it would rock.
            return if self.is_there() { DVec3::ZERO } else { blown };
        }
        self.told.speed_factors = self.speed_factors(heading);
        flatten64(heading.as_dvec3(), self.up()) * self.top_speed() + blown
    }

    /// Limits a wish off the ground, on the way to a place: no more than it can stop from before that, slowing by `rate`, m/s².
    pub fn no_further(&self, wish: DVec3, rate: f64) -> DVec3 {
        let Heading::To { place, .. } = self.heading else { return wish };
        let left = self.me.keeps.over_map(place - self.place_sampled_from(), self.up()).length();
        let most = (2.0 * SPARE * rate * left).sqrt().min(left / (LAST * GRID));
        let speed = wish.length();
        if speed > most { wish * (most / speed) } else { wish }
    }

    /// Velocity that wind or current adds to the wish, m/s, horizontal.
    fn blown(&self) -> DVec3 {
        let values = self.tuning.values();
        let part = match self.me.mode {
            Mode::Ground | Mode::Slide => values.ground.windage,
            Mode::Hover => values.hover.map_or(0.0, |hover| hover.windage),
            Mode::Air | Mode::Climb | Mode::Ledge | Mode::Swim | Mode::Custom => 0.0,
        };
        if self.me.flow.is_zero() {
            return DVec3::ZERO;
        }
        let blown = self.me.wind() * f64::from(part) + self.washed();
        self.me.keeps.flat64(flatten64(blown, self.up()))
    }

    /// The part of the current that a walker cannot withstand, m/s: the more of it is under water, the more has hold of it.
    fn washed(&self) -> DVec3 {
        let current = self.me.current();
        let speed = current.length();
        if speed == 0.0 || !self.me.is_on_ground() {
            return DVec3::ZERO;
        }
        let felt = speed * f64::from(self.me.immersed.part());
        current * ((felt - f64::from(self.tuning.values().ground.withstands)).max(0.0) / speed)
    }

    /// How strongly the air holds it now, per second, and the wind, m/s in the world.
    pub fn air(&self) -> (f64, DVec3) {
        let drag = self.tuning.values().air.drag;
        let free = drag == 0.0 || self.me.phase == Phase::Dash || self.displaced.is_some();
        if free { (0.0, DVec3::ZERO) } else { (f64::from(drag), self.me.keeps.flat64(self.me.wind())) }
    }

    /// The top speed by the factors that the wish was made with, m/s.
    pub fn top_speed(&self) -> f64 {
        let values = self.tuning.values();
        let base = match self.me.mode {
            Mode::Hover => values.hover.map_or(0.0, |hover| hover.speed),
            _ => values.sprint.filter(|_| self.me.marks.sprinting()).map_or(values.ground.speed, |s| s.speed),
        };
        (f64::from(base) * f64::from(self.told.speed_factors.but_sprint())).min(MOST_SPEED)
    }

    /// True where nothing of its own changes its velocity: in a dash, moved by the game, and in the pause after a jump
    /// off a wall.
    pub fn is_on_rails(&self) -> bool {
        self.displaced.is_some()
            || self.me.phase == Phase::Dash
            || (self.me.mode == Mode::Air
                && self.me.phase_left > 0.0
                && !matches!(self.me.phase, Phase::LetGo | Phase::DropsThrough)
                && !(self.me.phase.is_thrown() && self.me.control > 0.0))
    }

    /// All factors on the top speed along `wish`.
    pub fn speed_factors(&self, wish: Vec3) -> Factors {
        let (values, on_ground) = (self.tuning.values(), self.me.is_on_ground());
        let sprint = values.sprint.filter(|_| self.me.marks.sprinting());
        Factors {
            modifiers: self.modifiers.speed,
            sprint: sprint.map_or(1.0, |s| ratio(s.speed, values.ground.speed)),
            way: if on_ground && depends_on_way(self.tuning, self.face) {
                way_factor(&self.me, wish, self.tuning)
            } else {
                1.0
            },
            surface: if on_ground { self.footing().speed } else { 1.0 },
            slope: if on_ground { slope_factor(self, wish.as_dvec3()) } else { 1.0 },
            air: if self.me.mode == Mode::Air { values.air.speed } else { 1.0 },
            stance: if on_ground { self.low().map_or(1.0, |low| low.speed) } else { 1.0 },
            control: if self.me.phase == Phase::Shaken { self.me.control } else { 1.0 },
            water: if on_ground { 1.0 - (1.0 - values.ground.wading) * self.me.immersed.part() } else { 1.0 },
        }
    }

    /// All factors on the character's own acceleration and deceleration.
    pub fn acceleration_factors(&self) -> Factors {
        let (values, on_ground) = (self.tuning.values(), self.me.is_on_ground());
        let sprint = values.sprint.filter(|_| self.me.marks.sprinting() && on_ground);
        Factors {
            modifiers: self.modifiers.acceleration,
            sprint: sprint.map_or(1.0, |s| ratio(s.acceleration, values.ground.acceleration)),
            surface: if on_ground { self.footing().grip } else { 1.0 },
            control: if self.me.phase.is_thrown() { self.me.control } else { 1.0 },
            ..Factors::default()
        }
    }

    /// The footing underfoot.
    fn footing(&self) -> Footing {
        self.near.footing(self.ground.surface)
    }
}

/// `of` in parts of `base`; where there is no base a factor says nothing.
fn ratio(of: f32, base: f32) -> f32 {
    if base > 0.0 { of / base } else { 1.0 }
}
