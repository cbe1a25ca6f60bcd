//! A course: where, who, what is done there, and what is expected of it.

mod drivers;
mod expect;
mod file;
mod script;
mod solids;
mod tracks;
mod tuning_file;
mod zones;

pub(crate) use drivers::Drivers;
pub use drivers::{Drive, Planned, Take, Told};
pub use expect::{Expectation, Expected};
pub(crate) use script::{BUTTONS, Player};
pub use script::{Moment, Script, Step};
pub(crate) use solids::MOVING;
pub use tuning_file::read_tuning;
pub(crate) use zones::SEA;

use std::path::PathBuf;

use newel::glam::{DVec3, Vec3};
use newel::{Footing, Hold, Patch, RayHit, Sensor, Spawn, Terrain, Timetable, Tuning, When};

use crate::error::FileError;
use crate::reader::Source;

/// A course, read and checked, ready to run.
#[derive(Debug, Clone)]
pub struct Course {
    /// The file it came from.
    pub file: PathBuf,
    /// Name of the course.
    pub title: String,
    /// The terrain.
    pub scene: Scene,
    /// Where the character starts.
    pub spawn: Spawn,
    /// Its numbers.
    pub tuning: Tuning,
    /// Ticks a second.
    pub rate: f64,
    /// How long it runs, seconds.
    pub duration: f64,
    /// The script of the player.
    pub script: Script,
    /// Expectations of the run.
    pub expectations: Vec<Expectation>,
    /// Height of the sea all round, metres.
    pub sea_level: Option<f64>,
    /// Targets to lock onto.
    pub targets: Vec<newel::Target>,
}

/// Everything of a course that can be touched.
#[derive(Debug, Clone)]
pub struct Scene {
    /// All its triangles, what stands still and what moves by the course's clock, and its zones.
    pub solids: newel::Scene,
    /// The names of its surfaces; a triangle's surface number is an index into them.
    pub surfaces: Vec<String>,
    /// Their colours in pictures, red, green and blue from 0 to 1.
    pub colours: Vec<[f32; 3]>,
    /// The names of its sensors, which are numbered from 1.
    pub sensors: Vec<String>,
    /// Bounds of the character, if any.
    pub bounds: Option<newel::Bounds>,
}

impl Terrain for Scene {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.solids.gather(when, patch);
        if let Some(bounds) = &self.bounds {
            bounds.gather(patch);
        }
    }

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        self.solids.stamp(when, within)
    }

    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        self.solids.timetable(when, within)
    }

    fn sensors(&self, when: When, within: (DVec3, DVec3), found: &mut Vec<Sensor>) {
        self.solids.sensors(when, within, found);
    }

    fn footing(&self, surface: u16) -> Footing {
        self.solids.footing(surface)
    }

    fn hold(&self, surface: u16) -> Hold {
        self.solids.hold(surface)
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        self.solids.wave(zone, place, when, t)
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.solids.cast(when, from, along, length)
    }
}

impl Scene {
    /// The name of a surface.
    pub fn surface(&self, number: u16) -> &str {
        self.surfaces.get(usize::from(number)).map_or("?", String::as_str)
    }
}

impl Course {
    /// Reads and checks a course, and everything it names.
    ///
    /// # Errors
    /// [`FileError`] names the file, the line, the field and what is allowed.
    pub fn load(file: impl Into<PathBuf>) -> Result<Course, FileError> {
        let file = file.into();
        let source = Source::read(&file)?;
        file::read(&source, file)
    }

    /// Reads and checks a course from its text, as if it stood in `file`: what it names is looked for from there.
    ///
    /// # Errors
    /// As [`Course::load`].
    pub fn from_text(file: impl Into<PathBuf>, text: String) -> Result<Course, FileError> {
        let file = file.into();
        let source = Source::parse(&file, text)?;
        file::read(&source, file)
    }
}
