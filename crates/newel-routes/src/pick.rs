//! Picking: from what a player points at to a place to stand.

use newel::glam::{DVec3, Vec3};
use newel::{Character, Mode, Stance};

use crate::columns::Try;
use crate::ground::column_of;
use crate::legs::Legs;
use crate::standing;

/// How far a view ray is followed, metres.
const FARTHEST: f64 = 1000.0;
/// So far from the point meant a place to stand is looked for, metres over the map, and under it.
const ASIDE: f64 = 1.5;
const UNDER: f64 = 4.0;
/// Height counts for less than what is aside: a wall means the ground at its foot.
const HEIGHT_COUNTS: f64 = 0.3;

/// Why there is no place to stand where somebody pointed.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum NoPlace {
    /// A number is NaN or infinite, or the ray has no direction.
    #[error("{field} is not a usable number: it must be finite, and a ray needs a direction")]
    NotFinite {
        /// What it is.
        field: &'static str,
    },
    /// The ray meets nothing within a kilometre.
    #[error("there is nothing there")]
    Nothing,
    /// There is ground, but too steep to stand on.
    #[error("too steep to stand on, at {at}")]
    TooSteep {
        /// Where.
        at: DVec3,
    },
    /// There is ground, but under water too deep to stand in.
    #[error("the water is too deep, at {at}")]
    Water {
        /// Where.
        at: DVec3,
    },
    /// There is ground, but no room to stand or lie: inside something, or under something.
    #[error("no room to stand, at {at}")]
    NoRoom {
        /// Where.
        at: DVec3,
    },
    /// There is no ground under it.
    #[error("no ground to stand on, at {at}")]
    NoGround {
        /// Where.
        at: DVec3,
    },
    /// The same of the place that a way was to begin at.
    #[error("where it begins: {0}")]
    Start(Box<NoPlace>),
}

impl NoPlace {
    /// Readable text, in a few words.
    #[must_use]
    pub fn words(&self) -> &'static str {
        match self {
            NoPlace::NotFinite { .. } => "no such place",
            NoPlace::Nothing => "nothing there",
            NoPlace::TooSteep { .. } => "too steep",
            NoPlace::Water { .. } => "too deep",
            NoPlace::NoRoom { .. } => "no room",
            NoPlace::NoGround { .. } => "no ground",
            NoPlace::Start(_) => "cannot begin here",
        }
    }
}

pub(crate) fn pick(legs: &mut Legs<'_>, from: DVec3, along: Vec3) -> Result<DVec3, NoPlace> {
    let usable = from.is_finite() && along.is_finite();
    let along = Some(along.as_dvec3()).filter(|_| usable).and_then(DVec3::try_normalize);
    let along = along.ok_or(NoPlace::NotFinite { field: "the ray" })?;
    let hit = legs.terrain.cast(legs.when, from, along.as_vec3(), FARTHEST).ok_or(NoPlace::Nothing)?;
    // To the side that is seen: the foot of a wall is on this side of it.
    let normal = hit.normal.as_dvec3();
    let normal = normal * -normal.dot(along).signum();
    let point = from + along * hit.distance;
    let radius = f64::from(legs.plain.shape().radius);
    let aside = normal - legs.frame.up * normal.dot(legs.frame.up);
    near(legs, point + aside * (1.02 * radius)).map(|who| who.position)
}

/// The nearest place to a point where the character can stand or float.
pub(crate) fn near(legs: &mut Legs<'_>, point: DVec3) -> Result<Character, NoPlace> {
    if !(point.is_finite() && point.abs().max_element() < 1e8) {
        return Err(NoPlace::NotFinite { field: "the place" });
    }
    if let Some(who) = on_floor(legs, point) {
        return Ok(who);
    }
    near_but_not_at(legs, point)
}

/// The nearest standing place to a point without one.
pub(crate) fn near_but_not_at(legs: &mut Legs<'_>, point: DVec3) -> Result<Character, NoPlace> {
    let (frame, step, cell) = (legs.frame, legs.step(), legs.survey.cell);
    let far = |at: DVec3| {
        let (across, rise) = (frame.across(at, point), frame.height(at) - frame.height(point));
        let within = across <= ASIDE && (-UNDER..=step + 0.1).contains(&rise);
        within.then(|| across + HEIGHT_COUNTS * rise.abs())
    };
    let cells = (ASIDE / cell).ceil() as i32;
    let first = column_of(frame.map(point), cell).map(|n| n - cells);
    let columns = standing::columns(legs, first, 2 * cells as usize + 1);
    let mut tries: Vec<(f64, usize, Try)> = Vec::new();
    for column in 0..columns.count * columns.count {
        let near = columns.tries(column).iter().filter_map(|one| Some((far(frame.place(one.map, one.height))?, *one)));
        tries.extend(near.map(|(off, one)| (off, column, one)));
    }
    tries.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    for (_, column, one) in tries {
        let Some(who) = standing::stand_at(legs, &columns, column, one) else { continue };
        let at = who.position;
        if far(at).is_none() && who.mode != Mode::Swim {
            continue;
        }
        // As near to the point as a straight way leads. A place found here must be found again by a query of its own.
        let toward = frame.map(point) - frame.map(at);
        let goals = [1.0, 0.5].map(|part| frame.place(frame.map(at) + toward * part, frame.height(at)));
        let nearer = goals.into_iter().filter_map(|goal| legs.walk(&who, goal, 0.0).map(|(nearer, _)| nearer));
        let places: Vec<DVec3> = nearer.map(|nearer| nearer.position).chain([at]).collect();
        if let Some(who) = places.into_iter().find_map(|place| on_floor(legs, place)) {
            return Ok(who);
        }
    }
    Err(why_not(legs, point))
}

/// A place right at the point.
fn on_floor(legs: &mut Legs<'_>, point: DVec3) -> Option<Character> {
    let up = legs.frame.up;
    let stances = [Stance::Stand, Stance::Crouch, Stance::Prone];
    let here = |legs: &mut Legs<'_>, lift: f64| legs.stand_as(point + up * lift, 1e-3, &stances);
    let found = here(legs, 0.01).or_else(|| here(legs, 0.1));
    found.filter(|who| legs.is_clear(who))
}

/// The problem with a place.
fn why_not(legs: &mut Legs<'_>, point: DVec3) -> NoPlace {
    let (frame, terrain, when) = (legs.frame, legs.terrain, legs.when);
    let down = |from: DVec3| terrain.cast(when, from, -frame.up.as_vec3(), UNDER + 1.0);
    let Some(hit) = down(point + frame.up * 0.5) else { return NoPlace::NoGround { at: point } };
    let at = point + frame.up * (0.5 - hit.distance);
    if legs.is_deep(at) {
        return NoPlace::Water { at };
    }
    let steepest = f64::from(legs.plain.values().ground.steepest).to_radians();
    let level = hit.normal.as_dvec3().dot(frame.up).abs();
    if level < steepest.cos() { NoPlace::TooSteep { at } } else { NoPlace::NoRoom { at } }
}
