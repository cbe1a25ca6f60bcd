//! Two terrains as one.

use glam::{DVec3, Vec3};

use super::{Footing, Hold, Patch, RayHit, Sensor, Terrain, Timetable, When};
use crate::fingerprint::Fingerprint;

/// Both at once: a game's own collision, tiles or a height field, and beside it a [`Scene`](crate::Scene) of what moves, of zones, sensors and
/// poles. A third is a pair in a pair.
///
/// Bodies, zones and sensors have names of their own throughout; 0, the world, is shared. Of footings and holds the first's counts,
/// unless it is what a terrain says that says nothing; the heights of waves are added up.
///
/// ```
/// use newel::glam::{DVec2, DVec3};
/// use newel::{Ending, Key, Mesh, Scene, Track, Tuning, flat};
///
/// let px = flat::Scale::new(16.0)?.y_down();
/// let map = flat::Tiles::new(px, 20, 4, |_, y| if y == 3 { flat::Tile::Solid } else { flat::Tile::Empty })?;
/// // A lift 2 m wide that rises 3 m in 2 s, in metres: its top is level with the floor at first.
/// let plate = Mesh::cuboid(DVec3::new(-1.0, -0.2, -1.0), DVec3::new(1.0, 0.01, 1.0))?;
/// let low = px.world(DVec2::new(100.0, 48.0));
/// let up = Track::new(vec![Key::at(0.0, low), Key::at(2.0, low + 3.0 * DVec3::Y)], Ending::Stay)?;
/// let lifts = Scene::new().with_moving(1, plate, up);
///
/// let (level, tuning) = ((&map, &lifts), Tuning::walker());
/// let mut hero = flat::Runner::spawn(&level, &tuning, px.at(100.0, 47.0))?;
/// for _frame in 0..150 {
///     hero.advance(1.0 / 60.0, &level, &tuning, |_| flat::toward(0.0, 0.0), |_| {})?;
/// }
/// assert!((hero.position().y + 0.16).abs() < 0.01, "3 m and 1 cm over the floor, in pixels from the top");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
impl<A: Terrain, B: Terrain> Terrain for (A, B) {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.0.gather(when, patch);
        self.1.gather(when, patch);
    }

    fn sensors(&self, when: When, within: (DVec3, DVec3), found: &mut Vec<Sensor>) {
        self.0.sensors(when, within, found);
        self.1.sensors(when, within, found);
    }

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        let mut print = Fingerprint::new();
        print.u64(self.0.stamp(when, within)?);
        print.u64(self.1.stamp(when, within)?);
        Some(print.value())
    }

    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        Some(self.0.timetable(when, within)?.and(self.1.timetable(when, within)?))
    }

    fn footing(&self, surface: u16) -> Footing {
        let first = self.0.footing(surface);
        if first == Footing::default() { self.1.footing(surface) } else { first }
    }

    fn hold(&self, surface: u16) -> Hold {
        let first = self.0.hold(surface);
        if first == Hold::None { self.1.hold(surface) } else { first }
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        self.0.wave(zone, place, when, t) + self.1.wave(zone, place, when, t)
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let (first, second) = (self.0.cast(when, from, along, length), self.1.cast(when, from, along, length));
        match (first, second) {
            (Some(a), Some(b)) if b.distance < a.distance => Some(b),
            (first, second) => first.or(second),
        }
    }
}
