//! Terrain: the trait, what it answers with, and the triangle mesh.

mod body;
mod bounds;
pub(crate) mod cells;
mod facet;
mod footing;
mod heights;
mod hold;
mod layers;
#[cfg(feature = "mesh")]
mod mesh;
mod one_way;
mod pair;
mod patch;
#[cfg(feature = "mesh")]
mod scene;
mod sensor;
mod track;
mod water;
mod wind;
mod zone;

pub use body::{Body, Pose};
pub(crate) use bounds::RoundedBox;
pub(crate) use facet::Edge;
pub use facet::{Facet, Round};
pub use footing::Footing;
pub(crate) use footing::Said;
pub use heights::{Heights, HeightsError};
pub use hold::Hold;
pub use layers::{Layers, Who};
#[cfg(feature = "mesh")]
pub use mesh::{Mesh, MeshError, Vertex};
pub(crate) use one_way::{OneWay, There};
pub use patch::Patch;
#[cfg(feature = "mesh")]
pub use scene::{Scene, SceneError, Solid};
pub use sensor::Sensor;
pub use track::{Ending, Key, Track, TrackError};
pub(crate) use water::MOST_CURRENT;
pub use water::{Swell, Water, WaterSurface, Waves};
pub(crate) use wind::MOST_WIND;
pub use wind::{Gusts, Wind};
pub use zone::{Effect, Pull, Zone};

use glam::{DVec3, Vec3};

use crate::fingerprint::Fingerprint;

/// Which tick is asking, so that bodies can move within a frame of several ticks; and for whom.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct When {
    /// The tick's number, as the game counts them.
    pub number: u64,
    /// The tick's length, seconds.
    pub dt: f64,
    /// Who asks: what it does not touch is left out of the answer.
    pub who: Who,
    /// When in the tick the stretch of time begins that is asked about, seconds: 0 unless the terrain has a [`Terrain::timetable`]; below 0
    /// where it begins before the tick.
    pub from: f64,
    /// How long that stretch is, seconds: the tick's length unless the terrain has a timetable.
    pub span: f64,
}

/// Identity of a terrain that can answer for any time: [`Terrain::timetable`].
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Timetable {
    /// The same for as long as no answer about the places asked for changes, at any moment, and another than any other terrain's.
    pub stamp: u64,
    /// The terrain's own time when the tick begins, seconds: it passes as the ticks' does, or the answers count as changed. `None` where
    /// nothing depends on it.
    pub time: Option<f64>,
}

impl Timetable {
    /// The timetable of two terrains together.
    #[must_use]
    pub fn and(self, other: Timetable) -> Timetable {
        let apart = self.time.zip(other.time).map_or(0.0, |(a, b)| ((b - a) * 1e6).round());
        let mut print = Fingerprint::new();
        [self.stamp, other.stamp, apart.to_bits()].iter().for_each(|x| print.u64(*x));
        Timetable { stamp: print.value(), time: self.time.or(other.time) }
    }
}

impl When {
    /// A tick of `dt` seconds, for nobody in particular.
    #[must_use]
    pub fn tick(number: u64, dt: f64) -> When {
        When { number, dt, who: Who::default(), from: 0.0, span: dt }
    }

    /// The same about a stretch of `span` seconds that begins `from` seconds after the tick.
    #[must_use]
    pub fn about(self, from: f64, span: f64) -> When {
        When { from, span, ..self }
    }
}

/// A world that characters can touch.
///
/// A game implements this over its own world, or uses [`Mesh`], [`Scene`], [`Heights`] or [`flat::Tiles`](crate::flat::Tiles); a pair of
/// terrains, `(A, B)`, is both at once. It is asked once in an ordinary tick.
///
/// # Contract
/// - [`Terrain::gather`] adds everything that reaches into the patch's box at any moment of the stretch of time asked about; more is
///   allowed, less is not. A moving part is added at its pose when that begins, with a [`Body`] that says how it moves. The stretch is the
///   tick, but for terrain with a [`Terrain::timetable`].
/// - A body's motion in one tick ends where its motion in the next begins.
/// - The same question in the same tick has the same answer. Order does not matter: the patch is sorted by
///   body and facet number, so those must tell facets apart.
pub trait Terrain: Sync {
    /// Adds every facet, round and zone that reaches into `patch.world_bounds()`, relative to `patch.origin()`.
    fn gather(&self, when: When, patch: &mut Patch);

    /// Adds every sensor that somebody may be in who is in the box between two corners, in the world, at any moment of the tick; more is
    /// allowed, less is not. None, unless a terrain says otherwise. Asked once in every tick, at its end.
    fn sensors(&self, when: When, (low, high): (DVec3, DVec3), found: &mut Vec<Sensor>) {
        let _ = (when, low, high, found);
    }

    /// A stamp of all answers about the box between two corners, in the world. The stamp stays the same while none of these answers
    /// change, and differs from the stamp of any other terrain. A character at rest then costs next to nothing. The default, `None`,
    /// means that the answers may change.
    ///
    /// A terrain may ignore the box and return one stamp for everywhere. Any change then ends the rest of every character.
    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        let _ = (when, within);
        None
    }

    /// The timetable of the box between two corners, in the world: a terrain with one answers about any stretch of time
    /// ([`When::from`]), before the tick and after it. Motion in the box is then the same at every tick rate, to the bit. `None` means that
    /// the terrain knows only the tick itself, because a game moves bodies in the box from tick to tick. Motion is then decided anew at every
    /// tick's end. By default a terrain with a stamp has a timetable too.
    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        self.stamp(when, within).map(|stamp| Timetable { stamp, time: None })
    }

    /// The footing of a surface: ice, mud. As the tuning says, unless a terrain says otherwise.
    fn footing(&self, surface: u16) -> Footing {
        let _ = surface;
        Footing::default()
    }

    /// The hold of a surface for climbing: a ladder, a climbing wall. Nothing, unless a terrain says otherwise.
    fn hold(&self, surface: u16) -> Hold {
        let _ = surface;
        Hold::None
    }

    /// How high over its still level the surface of a zone's water is at `place`, `t` seconds into the stretch of time asked about,
    /// metres: any function of place and time, for water with [`Waves::Own`]. Asked at most a few times a grid step of 1/120 s, also a step
    /// before that begins and a step after it ends.
    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        let _ = (zone, place, when, t);
        0.0
    }

    /// The nearest facet along a ray of `length` metres from `from` along the unit vector `along`.
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit>;
}

impl<T: Terrain + ?Sized> Terrain for &T {
    fn gather(&self, when: When, patch: &mut Patch) {
        (**self).gather(when, patch);
    }
    fn sensors(&self, when: When, within: (DVec3, DVec3), found: &mut Vec<Sensor>) {
        (**self).sensors(when, within, found);
    }
    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        (**self).stamp(when, within)
    }
    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        (**self).timetable(when, within)
    }
    fn footing(&self, surface: u16) -> Footing {
        (**self).footing(surface)
    }
    fn hold(&self, surface: u16) -> Hold {
        (**self).hold(surface)
    }
    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        (**self).wave(zone, place, when, t)
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        (**self).cast(when, from, along, length)
    }
}

/// Where a ray met the terrain.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RayHit {
    /// How far along the ray, metres.
    pub distance: f64,
    /// The facet's unit normal by its winding: not turned toward the ray.
    pub normal: Vec3,
    /// Surface number of the facet.
    pub surface: u16,
    /// The body it belongs to.
    pub body: u64,
    /// True for a floor that is passed from below: what goes through it is not inside anything.
    pub one_way: bool,
}
