//! Places to stand or float in the columns of a square of the map.

use newel::glam::{DVec2, DVec3};
use newel::{Character, Mode};

use crate::columns::{Columns, Floors, Try};
use crate::legs::Legs;

/// More floors than this over each other are not looked at.
const MOST_FLOORS: usize = 64;
/// A slope gentler than the steepest by this much, radians, is walked without a doubt.
const GENTLER: f64 = 0.05;
/// Two floors nearer to each other than this, metres, are one.
const SAME: f64 = 0.05;

/// The floors under `count` by `count` columns from the column `first`.
pub(crate) fn columns(legs: &mut Legs<'_>, first: [i32; 2], count: usize) -> Columns {
    let (survey, frame, values) = (legs.survey, legs.frame, legs.plain.values());
    let square = (first, count, survey.cell);
    if survey.plane.as_dvec3().dot(frame.up).abs() > 0.5 {
        return Columns::level(square, frame.height(survey.through));
    }
    let steepest = f64::from(values.ground.steepest).to_radians();
    let radius = f64::from(legs.plain.shape().radius);
    let gentle = (steepest - GENTLER).max(0.0).cos();
    let floors =
        Floors { least_up: steepest.cos() - 0.01, swims: survey.swims, apart: legs.step().max(0.1), radius, gentle };
    let (columns, facets) = Columns::of(legs.terrain, legs.when, frame, square, survey.heights, floors);
    legs.budget.spend(facets as u64 / crate::budget::FACETS_A_PLACE);
    columns
}

/// Places to stand or float in one of them, lowest first.
pub(crate) fn stand_in(legs: &mut Legs<'_>, columns: &Columns, column: usize) -> Vec<Character> {
    let frame = legs.frame;
    let mut standing: Vec<Character> = Vec::new();
    for one in columns.tries(column) {
        let is_new = |it: &Character| standing.iter().all(|s| (s.position - it.position).length() > SAME);
        let it = stand_at(legs, columns, column, *one);
        standing.extend(it.filter(is_new));
    }
    standing.sort_by(|a, b| frame.height(a.position).total_cmp(&frame.height(b.position)));
    standing.truncate(MOST_FLOORS);
    standing
}

/// The place that a try of a column leads to.
pub(crate) fn stand_at(legs: &mut Legs<'_>, columns: &Columns, column: usize, one: Try) -> Option<Character> {
    let (middle, half) = (columns.middle(column), 0.5 * columns.cell);
    let aside = half + (one.map - middle).abs().max_element();
    let place = on_plane(legs, one.map, one.height);
    let it = legs.stand(place, aside)?;
    let is_in_column = (legs.frame.map(it.position) - middle).abs().max_element() <= half;
    let is_floor = one.is_walkable || it.mode == Mode::Swim;
    (is_in_column && is_floor).then_some(it)
}

/// The place there on the map, brought to the plane that the character keeps to.
fn on_plane(legs: &Legs<'_>, map: DVec2, height: f64) -> DVec3 {
    let place = legs.frame.place(map, height);
    let plane = legs.survey.plane.as_dvec3().try_normalize();
    plane.map_or(place, |normal| place - normal * (place - legs.survey.through).dot(normal))
}
