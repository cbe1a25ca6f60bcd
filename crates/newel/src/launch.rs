//! Throwing a character: by a velocity, or onto a place.

use glam::{DVec3, Vec3};

use crate::error::TickError;
use crate::fingerprint::Fingerprint;
use crate::flight::{Aim, Flight};
use crate::math::carried_over;
use crate::modifiers::{MOST_SPEED, Modifiers, within_most_speed};
use crate::state::State;
use crate::tuning::Tuning;

/// Axes of a launch's velocity.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Axes {
    /// The world's.
    #[default]
    World,
    /// The character's: x to its right, y up, z ahead.
    Facing,
    /// Gravity's: y up, and x and z as the world's would be if its y were turned there the short way.
    Gravity,
}

/// A throw: for knock-back, jump pads, waves, cannons.
///
/// ```
/// use newel::glam::DVec3;
/// use newel::{Axes, Command, Launch};
/// // Back and up, whatever it did before; for half a second it steers a fifth as well.
/// let knocked_back = Launch::at(DVec3::new(0.0, 4.0, -6.0)).along(Axes::Facing).steered(0.2, 0.5);
/// let commands = [Command::from(knocked_back)];
/// # let _ = commands;
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Launch {
    /// Metres per second.
    pub velocity: DVec3,
    /// Along what that is measured.
    pub axes: Axes,
    /// Along which of the axes it is added to what the character has, rather than instead of it.
    pub adds: [bool; 3],
    /// How much it can steer and brake for a time, as a factor, 0 to 1; 0 locks steering, jumps and dashes.
    pub control: f32,
    /// For how long, seconds, 0 to 3,600. Weakened steering lasts on the ground too; what is locked is free once it has landed.
    pub lasts: f32,
    /// Whether hitting a wall ends that too, at least as fast as `impact.told`.
    pub until_wall: bool,
}

/// A place that a launch cannot reach.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OutOfReach {
    /// The furthest place on the straight way there that can be reached; where it is, if none can.
    pub nearest: DVec3,
    /// The speed that it would take, m/s; infinite where no speed would do.
    pub needed: f64,
    /// The greatest that was allowed, m/s.
    pub fastest: f64,
}

impl core::fmt::Display for OutOfReach {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        let OutOfReach { nearest, needed, fastest } = self;
        write!(
            f,
            "that takes {needed:.3} m/s and at most {fastest} are allowed: no further on the way there than {nearest}"
        )
    }
}

impl std::error::Error for OutOfReach {}

impl Launch {
    /// At this velocity in the world, whatever it had.
    #[must_use]
    pub fn at(velocity: DVec3) -> Launch {
        Launch { velocity, axes: Axes::World, adds: [false; 3], control: 1.0, lasts: 0.0, until_wall: false }
    }

    /// The same measured along other axes.
    #[must_use]
    pub fn along(self, axes: Axes) -> Launch {
        Launch { axes, ..self }
    }

    /// The same added to the velocity it has, along all axes.
    #[must_use]
    pub fn added(self) -> Launch {
        Launch { adds: [true; 3], ..self }
    }

    /// The same with steering weakened by the factor `control` for `lasts` seconds.
    #[must_use]
    pub fn steered(self, control: f32, lasts: f32) -> Launch {
        Launch { control, lasts, ..self }
    }

    /// The same, its weakened steering ended by a wall as well.
    #[must_use]
    pub fn until_wall(self) -> Launch {
        Launch { until_wall: true, ..self }
    }

    /// The launch that brings the feet from where they are onto `target`: exact for this character's own gravity, drag and fastest
    /// fall, and for the wind, as they are now, with its steering locked on the way. At most `fastest` m/s; a NaN allows none.
    ///
    /// ```
    /// # use newel::{Aim, Character, Launch, Mesh, Modifiers, Tuning, glam::DVec3};
    /// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
    /// # let tuning = Tuning::walker();
    /// let hero = Character::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
    /// let gallery = DVec3::new(4.0, 3.0, 0.0);
    /// let thrown = Launch::onto(gallery, Aim::Top(4.0), 15.0, &hero, &tuning, &Modifiers::default())?;
    /// let too_far = Launch::onto(gallery * 9.0, Aim::Least, 15.0, &hero, &tuning, &Modifiers::default()).unwrap_err();
    /// assert!(thrown.velocity.y > 0.0 && too_far.needed > 15.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    ///
    /// # Errors
    /// [`OutOfReach`] where that takes more speed, or cannot be: a top below the place, a time that is not over 0, a number that is
    /// not finite.
    pub fn onto(
        target: DVec3,
        aim: Aim,
        fastest: f64,
        me: &State,
        tuning: &Tuning,
        modifiers: &Modifiers,
    ) -> Result<Launch, OutOfReach> {
        let fastest = fastest.clamp(0.0, MOST_SPEED);
        let flight = Flight::of(me, tuning, modifiers, fastest);
        let way = me.keeps.flat64(target - me.position);
        let found = flight.throw(way, aim);
        let needed = found.map_or(f64::INFINITY, |(velocity, _)| velocity.length());
        match found {
            Some((velocity, time)) if needed <= fastest => Ok(Launch::at(velocity).steered(0.0, time as f32)),
            _ => {
                let part = flight.furthest(way, aim);
                let nearest = if part > 0.0 { me.position + way * part } else { me.position };
                Err(OutOfReach { nearest, needed, fastest })
            }
        }
    }

    /// The velocity in the world that `me`, at `velocity`, has after it.
    pub(crate) fn applied(&self, velocity: DVec3, me: &State) -> DVec3 {
        let up = me.up;
        let axes = match self.axes {
            Axes::World => [Vec3::X, Vec3::Y, Vec3::Z],
            Axes::Facing => [me.facing.cross(up), up, me.facing],
            Axes::Gravity => {
                [carried_over(Vec3::X, Vec3::Y, up, Vec3::X), up, carried_over(Vec3::Z, Vec3::Y, up, Vec3::X)]
            }
        };
        let parts = self.velocity.to_array();
        let along = |i: usize| {
            let axis = axes[i].as_dvec3();
            axis * (parts[i] + if self.adds[i] { velocity.dot(axis) } else { 0.0 })
        };
        within_most_speed(along(0) + along(1) + along(2))
    }

    pub(crate) fn check(&self) -> Result<(), TickError> {
        let checks = [
            ("command.launch (its speed)", self.velocity.length(), MOST_SPEED),
            ("command.launch.control", f64::from(self.control), 1.0),
            ("command.launch.lasts", f64::from(self.lasts), 3600.0),
        ];
        for (field, value, most) in checks {
            if !value.is_finite() {
                return Err(TickError::NotFinite { field });
            }
            if !(0.0..=most).contains(&value) {
                return Err(TickError::OutOfRange { field, value, least: 0.0, most });
            }
        }
        Ok(())
    }

    pub(crate) fn feed(&self, print: &mut Fingerprint) {
        self.velocity.to_array().iter().for_each(|x| print.f64(*x));
        self.adds.iter().chain([&self.until_wall]).for_each(|x| print.u64(u64::from(*x)));
        print.u64(self.axes as u64);
        [self.control, self.lasts].iter().for_each(|x| print.f32(*x));
    }
}
