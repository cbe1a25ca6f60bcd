//! Adding, moving and removing, while the game runs.

use core::ops::Range;

use glam::{DQuat, DVec3};

use super::{Scene, SceneError, Solid};
use crate::terrain::{Sensor, Track, When, Zone};

/// How far an orientation may be from a unit quaternion, by the square of its length.
const UNIT: f64 = 1e-6;

impl Scene {
    /// Adds a body with this name, standing still.
    ///
    /// # Errors
    /// [`SceneError`] where the name is taken, or the pose is none.
    pub fn add(&mut self, id: u64, solid: Solid, place: DVec3, orientation: DQuat) -> Result<(), SceneError> {
        if id == 0 {
            return Err(SceneError::World);
        }
        if self.bodies.named(id).is_some() {
            return Err(SceneError::Taken { id });
        }
        self.bodies.put(id, solid, checked(id, place, orientation)?);
        Ok(())
    }

    /// Removes a body, or nothing where there is none with this name: what it was made of.
    pub fn remove(&mut self, id: u64) -> Option<Solid> {
        self.bodies.take_out(id).map(|named| named.solid)
    }

    /// Puts a body somewhere else at once: it carries nobody there, and may end up in somebody.
    ///
    /// # Errors
    /// [`SceneError`] where there is none with this name, or the pose is none.
    pub fn put(&mut self, id: u64, place: DVec3, orientation: DQuat) -> Result<(), SceneError> {
        self.take(id, place, orientation, 0..0)
    }

    /// Moves a body evenly, and by the shorter turn, from where it is when the first of `ticks` begins to this pose when the last has
    /// ended: it carries and pushes as it goes. For one tick, `number..number + 1`; where a frame may be several ticks, all of them. A
    /// motion that was under way goes on from where it is then.
    ///
    /// ```
    /// use newel::glam::{DQuat, DVec3};
    /// use newel::{Intent, Mesh, Runner, Scene, Solid, Tuning};
    /// let mut scene = Scene::new();
    /// scene.add(7, Solid::cuboid(DVec3::new(-1.0, -0.2, -1.0), DVec3::new(1.0, 0.0, 1.0))?, DVec3::ZERO, DQuat::IDENTITY)?;
    /// let tuning = Tuning::walker();
    /// let mut hero = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0])?;
    /// for number in 0..60 {
    ///     let height = (number + 1) as f64 * 0.05;
    ///     scene.take(7, DVec3::Y * height, DQuat::IDENTITY, number..number + 1)?;
    ///     hero.advance(1.0 / 60.0, &scene, &tuning, |_| Intent::default(), |_| {})?;
    /// }
    /// assert!((hero.character.position.y - 3.0).abs() < 1e-6, "carried up");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    ///
    /// # Errors
    /// As [`Scene::put`], and [`SceneError::OnTrack`] for one that follows a track.
    pub fn take(&mut self, id: u64, place: DVec3, orientation: DQuat, ticks: Range<u64>) -> Result<(), SceneError> {
        let named = self.bodies.named(id).ok_or(SceneError::Unknown { id })?;
        if named.has_track() && !ticks.is_empty() {
            return Err(SceneError::OnTrack { id });
        }
        self.bodies.take(id, checked(id, place, orientation)?, ticks);
        Ok(())
    }

    /// Has a body move along a track from now on.
    ///
    /// # Errors
    /// [`SceneError::Unknown`] where there is none with this name.
    pub fn follow(&mut self, id: u64, track: Track) -> Result<(), SceneError> {
        let named = self.bodies.take_out(id).ok_or(SceneError::Unknown { id })?;
        self.bodies.put_on_track(id, named.solid, track);
        Ok(())
    }

    /// Where a body is as a tick begins.
    #[must_use]
    pub fn pose_of(&self, id: u64, when: When) -> Option<(DVec3, DQuat)> {
        self.bodies.named(id).map(|named| named.pose(when.number, self.start(when)))
    }

    /// Adds a zone, as [`Scene::with_zone`].
    ///
    /// # Errors
    /// [`SceneError::BadZone`] for one with a corner that is not a number, or without a volume: it could not act.
    pub fn add_zone(&mut self, zone: Zone) -> Result<(), SceneError> {
        if let Some(why) = zone.fault() {
            return Err(SceneError::BadZone { id: zone.id, why });
        }
        self.lay_down(&zone);
        self.zones.push(zone);
        Ok(())
    }

    /// Adds a sensor, on the body with this name, 0 for the world.
    pub fn add_sensor(&mut self, body: u64, sensor: Sensor) {
        self.sensors.push((body, sensor));
    }

    /// Removes every sensor with this name: what was picked up. True where there was one.
    pub fn remove_sensor(&mut self, id: u64) -> bool {
        let before = self.sensors.len();
        self.sensors.retain(|(_, sensor)| sensor.id != id);
        self.sensors.len() < before
    }
}

fn checked(id: u64, place: DVec3, orientation: DQuat) -> Result<(DVec3, DQuat), SceneError> {
    let unit = (orientation.length_squared() - 1.0).abs() < UNIT;
    if unit && place.is_finite() { Ok((place, orientation)) } else { Err(SceneError::NotAPose { id }) }
}
