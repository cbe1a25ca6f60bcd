//! Drivers of a course's character beside its script: a trip to a place, a lock onto a target, a patrol; and the bounds that it is kept to.

use newel::glam::{DVec3, Vec3};
use newel::{
    Aside, AtBounds, Before, Bounds, Character, Command, Intent, Lock, Locking, Pacing, Patrol, Readout, Sights,
    Target, When,
};
use newel_routes::{Routes, Survey, Travel, Trip};

use super::Course;
use crate::error::FileError;
use crate::reader::Table;

/// Requests of a script to the drivers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Drive {
    /// Go to a place by a route.
    Go(DVec3),
    /// Take a target, or another one to a side; let go of it where `None`.
    Lock(Option<Take>),
    /// To and fro from now on, this way at first.
    Patrol(Vec3),
    /// All of them let go.
    Free,
}

/// Which target to take.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Take {
    /// The best ahead of the view.
    Best,
    /// The next one to a side.
    Next(Aside),
}

/// Something that a driver told.
#[derive(Debug, Clone, PartialEq)]
pub struct Told {
    /// When, seconds.
    pub time: f64,
    /// The report, in the words that expectations use.
    pub words: String,
}

/// A route that was planned in a run.
#[derive(Debug, Clone, PartialEq)]
pub struct Planned {
    /// When, seconds.
    pub time: f64,
    /// The places between its legs.
    pub places: Vec<DVec3>,
    /// How long it was to take, seconds.
    pub seconds: f64,
    /// How long it is, metres.
    pub length: f64,
}

/// The drivers of a run.
#[derive(Debug)]
pub(crate) struct Drivers<'a> {
    course: &'a Course,
    trip: Trip,
    /// Made when first needed.
    routes: Option<Routes>,
    lock: Lock,
    patrol: Option<Patrol>,
    outside: bool,
    /// How things stood after the last tick.
    pub last: Option<Readout>,
    pub told: Vec<Told>,
    pub planned: Vec<Planned>,
}

impl<'a> Drivers<'a> {
    pub fn new(course: &'a Course) -> Drivers<'a> {
        Drivers {
            course,
            // A course has no frames to keep up with.
            trip: Trip::new(Travel { places: usize::MAX, ..Travel::default() }),
            routes: None,
            lock: Lock::new(Locking::default()),
            patrol: None,
            outside: false,
            last: None,
            told: Vec::new(),
            planned: Vec::new(),
        }
    }

    /// The intent for the next tick, made of the script's `own`, and what bounds command.
    pub fn drive(
        &mut self,
        own: Intent,
        asked: &[(Drive, Vec3)],
        (number, dt): (u64, f64),
        hero: &Character,
    ) -> (Intent, Option<Command>) {
        let when = When::tick(number, dt);
        asked.iter().for_each(|(drive, view)| self.ask(*drive, *view, when, hero));
        let last = self.last;
        let before = Before { number, dt, character: hero, last: last.as_ref() };
        let mut intent = own;
        if let Some(patrol) = &mut self.patrol {
            intent = patrol.drive(intent, hero, last.as_ref());
        }
        if let Some(routes) = &self.routes {
            intent = self.trip.drive(intent, &before, &self.course.scene, routes);
            self.note_trip(hero.clock);
        }
        let sights = Sights { terrain: &self.course.scene, when, targets: &self.course.targets };
        intent = self.lock.drive(intent, hero, &sights);
        if let Some(end) = self.lock.take_end() {
            self.tell(hero.clock, end.words());
        }
        self.keep_in_bounds(intent, hero)
    }

    fn ask(&mut self, drive: Drive, view: Vec3, when: When, hero: &Character) {
        let course = self.course;
        let sights = Sights { terrain: &course.scene, when, targets: &course.targets };
        match drive {
            Drive::Go(place) => {
                if self.routes.is_none() {
                    let spawn = &course.spawn;
                    let survey = Survey {
                        up: spawn.up,
                        plane: spawn.plane,
                        through: spawn.position,
                        most_places: 1_000_000_000,
                        ..Survey::of(&course.tuning)
                    };
                    self.routes = Routes::new(survey, &course.tuning).ok();
                }
                self.trip.go(place);
            }
            Drive::Lock(None) => self.lock.release(),
            Drive::Lock(Some(take)) => {
                let took = match take {
                    Take::Best => self.lock.take(hero, view, &sights, |_| true),
                    Take::Next(side) => self.lock.switch(side, hero, &sights, |_| true),
                };
                let words = took.map_or_else(|_| "no target".to_owned(), |id| format!("target {id}"));
                self.tell(hero.clock, &words);
            }
            Drive::Patrol(way) => self.patrol = Some(Patrol::new(Pacing::default(), way, 1)),
            Drive::Free => {
                self.trip.cancel();
                self.lock.release();
                self.patrol = None;
            }
        }
    }

    /// A route that is new, and how the trip ended.
    fn note_trip(&mut self, time: f64) {
        if let Some(route) = self.trip.route().filter(|_| self.trip.leg() == 0) {
            let places = route.places();
            if self.planned.last().is_none_or(|last| last.places != places) {
                self.planned.push(Planned { time, places, seconds: route.seconds, length: route.length });
            }
        }
        if let Some(end) = self.trip.take_end() {
            self.tell(time, end.words());
        }
    }

    fn tell(&mut self, time: f64, words: &str) {
        self.told.push(Told { time, words: words.to_owned() });
    }

    fn keep_in_bounds(&mut self, intent: Intent, hero: &Character) -> (Intent, Option<Command>) {
        let Some(bounds) = self.course.scene.bounds else { return (intent, None) };
        let crossed = bounds.crossed(hero);
        if crossed.is_some() && !self.outside {
            self.tell(hero.clock, "out of bounds");
        }
        self.outside = crossed.is_some();
        (bounds.drive(intent, hero), crossed.and_then(|crossed| crossed.command))
    }
}

/// The drivers that a moment of a script asks for.
pub(super) fn read_drives(table: &Table<'_>) -> Result<Vec<Drive>, FileError> {
    // Releases come first: what else this moment asks for is new.
    let free = (table.flag("free")? == Some(true)).then_some(Drive::Free);
    let go = table.numbers::<3>("go")?.map(|place| Drive::Go(DVec3::from_array(place)));
    let patrol = table.numbers::<3>("patrol")?.map(|way| Drive::Patrol(DVec3::from_array(way).as_vec3()));
    let lock = table.word("lock", &["best", "left", "right", "none"])?.map(|word| {
        Drive::Lock(match word {
            "left" => Some(Take::Next(Aside::Left)),
            "right" => Some(Take::Next(Aside::Right)),
            "none" => None,
            _ => Some(Take::Best),
        })
    });
    Ok([free, go, patrol, lock].into_iter().flatten().collect())
}

/// The targets of a course, numbered from 1.
pub(super) fn read_targets(root: &Table<'_>) -> Result<Vec<Target>, FileError> {
    let mut targets = Vec::new();
    for (number, table) in root.tables("target")?.iter().enumerate() {
        let place = DVec3::from_array(table.required_numbers::<3>("at")?);
        table.finish()?;
        targets.push(Target { id: number as u64 + 1, place, body: 0 });
    }
    Ok(targets)
}

/// The bounds of a course, if it has any.
pub(super) fn read_bounds(root: &Table<'_>) -> Result<Option<Bounds>, FileError> {
    let Some(table) = root.table("bounds")? else { return Ok(None) };
    let (from, to) = (table.required_numbers::<3>("from")?, table.required_numbers::<3>("to")?);
    let at = match table.word("at", &["stops", "wraps", "turns_back", "reports"])? {
        Some("wraps") => AtBounds::Wraps,
        Some("turns_back") => AtBounds::TurnsBack,
        Some("reports") => AtBounds::Reports,
        _ => AtBounds::Stops,
    };
    table.finish()?;
    Ok(Some(Bounds::new(DVec3::from_array(from), DVec3::from_array(to), at)))
}
