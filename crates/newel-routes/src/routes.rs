//! Routes over a terrain for one kind of character: the front of the crate.

use core::sync::atomic::{AtomicU64, Ordering};

use newel::glam::{DVec2, DVec3, Vec3};
use newel::{Character, Stance, Terrain, Tuning, When};

use crate::budget::Budget;
use crate::frame::Frame;
use crate::ground::{Ground, Look, column_of, tile_of};
use crate::legs::{Legs, Nothing};
use crate::pick::{self, NoPlace};
use crate::planning::Planning;
use crate::route::Route;
use crate::search::{self, Grid};
use crate::survey::{Survey, SurveyError};

/// Finds places and ways for characters of one tuning.
///
/// It surveys a terrain as it is asked about it, in square tiles, and remembers them; where several are missing they are made on several
/// threads. It can be shared between threads itself. The terrain is queried as of tick [`Routes::when`]; say where it
/// [changed](Routes::changed). Other characters are best left out of the terrain it is given: they will have moved on.
///
/// ```
/// use newel::{Mesh, Tuning, glam::DVec3};
/// use newel_routes::{Routes, Survey};
/// // A yard, and a wall across most of it.
/// let yard = [[-9.0, 0.0, -9.0], [9.0, 0.0, -9.0], [9.0, 0.0, 9.0], [-9.0, 0.0, 9.0f32]];
/// let wall = [[3.0, -0.1, -9.0], [3.0, 2.5, -9.0], [3.0, 2.5, 5.0], [3.0, -0.1, 5.0f32]];
/// let level = Mesh::new(&[yard, wall].concat(), &[0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7])?;
/// let tuning = Tuning::walker();
/// let routes = Routes::new(Survey::of(&tuning), &tuning)?;
/// let route = routes.plan_at_once(&level, DVec3::ZERO, DVec3::new(6.0, 0.0, 0.0))?;
/// assert!(route.short.is_none() && route.length > 10.0, "round the wall's end");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct Routes {
    survey: Survey,
    frame: Frame,
    /// The tuning as it is, and as it is surveyed with.
    real: Tuning,
    plain: Tuning,
    /// At which tick a terrain is asked what it looks like; its first, unless set otherwise.
    pub when: When,
    ground: Ground,
    changes: AtomicU64,
}

/// Parts of the step height and of the overhang that plans use.
const STEP_PART: f32 = 0.95;
const OVERHANG_PART: f32 = 0.5;

/// More tiles are not prepared at once.
const MOST_TILES: f64 = 1e6;

/// How much has been surveyed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Surveyed {
    /// Tiles.
    pub tiles: usize,
    /// Places to stand in them.
    pub places: usize,
    /// Memory, bytes.
    pub bytes: usize,
}

impl Routes {
    /// For characters of this tuning.
    ///
    /// # Errors
    /// [`SurveyError`] where a number of the survey is out of its range.
    pub fn new(survey: Survey, tuning: &Tuning) -> Result<Routes, SurveyError> {
        let frame = survey.check()?;
        let mut values = *tuning.values();
        (values.ground.fly_off, values.ground.step_loss) = (None, 0.0);
        // A barely possible step depends on the approach: that is no way to plan for.
        values.ground.step *= STEP_PART;
        values.ground.overhang *= OVERHANG_PART;
        let plain = Tuning::new(values)?;
        Character::spawn(&Nothing, &plain, survey.spawn(survey.through, Stance::Stand))?;
        Ok(Routes {
            survey,
            frame,
            real: *tuning,
            plain,
            when: When::tick(0, 1.0 / 60.0),
            ground: Ground::default(),
            changes: AtomicU64::new(0),
        })
    }

    /// Inputs that it was made with.
    #[must_use]
    pub fn survey(&self) -> &Survey {
        &self.survey
    }

    /// The tuning it is for.
    #[must_use]
    pub fn tuning(&self) -> &Tuning {
        &self.real
    }

    /// The place to stand that somebody means who points from `from` along `along`: the nearest to where that first meets the terrain, within
    /// a kilometre.
    ///
    /// # Errors
    /// [`NoPlace`] says why there is none.
    pub fn pick(&self, terrain: &dyn Terrain, from: DVec3, along: Vec3) -> Result<DVec3, NoPlace> {
        pick::pick(&mut self.legs(terrain), from, along)
    }

    /// The place to stand that is nearest to a point: under it rather than over it, and a few steps aside at most.
    ///
    /// # Errors
    /// [`NoPlace`] says why there is none.
    pub fn place_near(&self, terrain: &dyn Terrain, point: DVec3) -> Result<DVec3, NoPlace> {
        pick::near(&mut self.legs(terrain), point).map(|who| who.position)
    }

    /// Goes on planning a route by about so many `places`, and returns it once it is done: the quickest way found. Where there is none the
    /// route leads as near as can be, and says so ([`Route::short`]).
    ///
    /// A call never works much longer than that, whatever the terrain: what is left is done in the next calls. Looking at a place that is
    /// surveyed counts as one, at one that is not as about twenty. [`Planning::PLACES`] is about two milliseconds. How many calls a route takes
    /// is the same on every machine; it depends on what has been surveyed before.
    ///
    /// # Errors
    /// [`NoPlace`] where there is nowhere to stand at either end, or near.
    pub fn plan(
        &self,
        terrain: &dyn Terrain,
        planning: &mut Planning,
        places: usize,
    ) -> Option<Result<Route, NoPlace>> {
        let mut look = self.look(terrain);
        look.legs.budget = Budget::of(places);
        planning.work(&mut look, self.changes())
    }

    /// Plans a whole route in one call, however long that takes: for tools, tests and loading.
    ///
    /// # Errors
    /// [`NoPlace`] where there is nowhere to stand at either end, or near.
    pub fn plan_at_once(&self, terrain: &dyn Terrain, from: DVec3, to: DVec3) -> Result<Route, NoPlace> {
        let mut planning = Planning::new(from, to);
        loop {
            if let Some(route) = self.plan(terrain, &mut planning, usize::MAX) {
                return route;
            }
        }
    }

    /// Whether a straight way can be walked, as the terrain is now.
    pub(crate) fn still_walks(&self, terrain: &dyn Terrain, from: DVec3, to: DVec3, stance: Stance) -> bool {
        let mut legs = self.legs(terrain);
        let who = legs.stand_as(from, 0.05, &[stance]);
        who.and_then(|who| legs.walk(&who, to, 0.0)).is_some()
    }

    /// Surveys all tiles between two corners now, on all threads there are: while a level loads, say.
    ///
    /// # Errors
    /// [`SurveyError`] where a corner is not finite, or there are more than a million tiles between them.
    pub fn prepare(&self, terrain: &dyn Terrain, low: DVec3, high: DVec3) -> Result<(), SurveyError> {
        let between = self.tiles_between(low, high);
        let (low, high) = between.ok_or(SurveyError::NotFinite { field: "the corners to prepare between" })?;
        let value = (0..2).map(|axis| f64::from(high[axis]) - f64::from(low[axis]) + 1.0).product();
        if value > MOST_TILES {
            let field = "the number of tiles to prepare";
            return Err(SurveyError::OutOfRange { field, value, least: 0.0, most: MOST_TILES });
        }
        let numbers = |by: i32| -> Vec<[i32; 2]> {
            let across = low[0] - by..=high[0] + by;
            (low[1] - by..=high[1] + by).flat_map(|k| across.clone().map(move |i| [i, k])).collect()
        };
        let legs = self.legs(terrain);
        // Links lead into the tiles around.
        self.ground.prepare(&numbers(1), legs.again());
        self.ground.prepare_links(&numbers(0), legs.again());
        self.ground.prepare_crossings(&numbers(0), legs.again());
        Ok(())
    }

    /// All that can be reached from one place, as plain tables; `None` where there is nowhere to stand at either end, or no way between them.
    #[must_use]
    pub fn grid(&self, terrain: &dyn Terrain, from: DVec3, to: DVec3) -> Option<Grid> {
        search::grid(&mut self.look(terrain), from, to)
    }

    /// Tells it that the terrain between two corners is no longer what it was: it is surveyed anew when next asked about, and whoever is on
    /// a way plans again.
    pub fn changed(&self, low: DVec3, high: DVec3) {
        if let Some((low, high)) = self.tiles_between(low, high) {
            self.ground.forget(low, high);
        }
        self.changes.fetch_add(1, Ordering::Relaxed);
    }

    /// How often it was told of changes.
    #[must_use]
    pub fn changes(&self) -> u64 {
        self.changes.load(Ordering::Relaxed)
    }

    /// How much has been surveyed.
    #[must_use]
    pub fn surveyed(&self) -> Surveyed {
        let (tiles, places, bytes) = self.ground.size();
        Surveyed { tiles, places, bytes }
    }

    pub(crate) fn frame(&self) -> Frame {
        self.frame
    }

    fn legs<'a>(&'a self, terrain: &'a dyn Terrain) -> Legs<'a> {
        Legs::new(terrain, self.when, &self.survey, self.frame, [&self.plain, &self.real])
    }

    pub(crate) fn look<'a>(&'a self, terrain: &'a dyn Terrain) -> Look<'a> {
        Look::new(&self.ground, self.legs(terrain))
    }

    /// The numbers of the tiles that a box in the world reaches into, its neighbours' edges included.
    fn tiles_between(&self, low: DVec3, high: DVec3) -> Option<([i32; 2], [i32; 2])> {
        if !(low.is_finite() && high.is_finite()) {
            return None;
        }
        let corners = (0..8).map(|n| corner(n, low, high)).map(|p| self.frame.map(p));
        let (least, most) = corners.fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(l, h), p| (l.min(p), h.max(p)));
        let cell = self.survey.cell;
        let number = |map: DVec2, off: i32| tile_of(column_of(map, cell).map(|n| n.saturating_add(off)));
        Some((number(least, -1), number(most, 1)))
    }
}

/// One of the eight corners of a box.
fn corner(number: usize, low: DVec3, high: DVec3) -> DVec3 {
    let pick = |bit: usize, l: f64, h: f64| if number >> bit & 1 == 0 { l } else { h };
    DVec3::new(pick(0, low.x, high.x), pick(1, low.y, high.y), pick(2, low.z, high.z))
}
