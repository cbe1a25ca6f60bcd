//! When a moving core first touches: conservative advancement along the true path.
//!
//! A path is a closed-form arc, `v t + a t² / 2`, not a chord. Along any direction in which an obstacle is known to
//! lie behind a plane the gap is a quadratic of time, so the first moment it can close is exact; advancing to the
//! latest such moment and asking for closest points again converges on first touch and never passes it
//! (Mirtich, *Impulse-based Dynamic Simulation*, 1996, chapter 3, with a quadratic in place of a speed bound).
//!
//! Two directions serve: the one between the closest points, and the face's own normal. The second is what keeps
//! floors of any triangulation free of bumps: a facet in the plane one moves along never closes along its normal.

use core::cell::Cell;
use core::ops::Range;

use glam::Vec3;

use super::arcs::{Arc, Motion, Path, seen_from};
use super::closest::{Closest, to_facet, to_round};
use crate::shape::Core;
use crate::terrain::{Facet, OneWay, Patch, Round, RoundedBox, There};

/// The first obstacle of a sweep.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Obstacle {
    /// Index into the patch's facets.
    Facet(usize),
    /// Index into the patch's rounds.
    Round(usize),
}

/// The first touch of a sweep.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Hit {
    /// Seconds along the path; every earlier pose is clear.
    pub time: f32,
    /// The closest points at that pose.
    pub closest: Closest,
    /// Whose they are.
    pub obstacle: Obstacle,
}

/// A motion that closes by less than this part of its length only grazes: single precision tells no better.
const GRAZING: f32 = 1e-6;

/// The part of the terrain that a sweep tests.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Against {
    /// All of it, at one moment: what moves stands still where it is.
    Still,
    /// All of it, as time passes: what moves does so.
    Moving,
    /// The same but for the body with this name, which what is swept moves with.
    MovingBut(u64),
}

/// The first touch of a shape's segments along `path` in `patch`, within `limit` seconds.
///
/// Touching means a gap of zero within `tolerance`. An existing contact stops only motion that would close it by more than `tolerance`: leaving and grazing are free.
pub(crate) fn first_hit(
    cores: &[Core],
    (path, mut limit): (&Path, f32),
    patch: &Patch,
    tolerance: f32,
    against: Against,
) -> Option<Hit> {
    let mut first = None;
    for core in cores {
        if let Some(hit) = first_hit_of((core, cores), path, patch, tolerance, against, limit) {
            limit = hit.time;
            first = Some(hit);
        }
    }
    first
}

/// The first touch of one of the segments before `limit` seconds.
fn first_hit_of(
    (core, cores): (&Core, &[Core]),
    path: &Path,
    patch: &Patch,
    tolerance: f32,
    against: Against,
    mut limit: f32,
) -> Option<Hit> {
    let fastest = path.velocity.length().max(path.rate.length() * path.span) as f32;
    let Some(stretches) = patch.stretches().filter(|_| against != Against::Still) else {
        let all = Obstacles::all(patch);
        return Search::of(core, Arc::of(path), tolerance, GRAZING * fastest, limit).of_shape(cores).through(all);
    };
    let mut found = None;
    for stretch in stretches {
        let body = patch.body(stretch.body);
        if against == Against::MovingBut(body.id) {
            continue;
        }
        let these = Obstacles { patch, facets: stretch.facets.clone(), rounds: stretch.rounds.clone() };
        let hit = if body.is_still() {
            Search::of(core, Arc::of(path), tolerance, GRAZING * fastest, limit).of_shape(cores).through(these)
        } else {
            let (arcs, speed) = seen_from(&body, core, path, patch);
            Search::of(core, arcs, tolerance, GRAZING * (fastest + speed), limit).of_shape(cores).through(these)
        };
        if let Some(hit) = hit {
            limit = hit.time;
            found = Some(hit);
        }
    }
    found
}

struct Search<'a, M> {
    core: &'a Core,
    motion: M,
    tolerance: f32,
    /// Closing slower than this is grazing, m/s.
    graze: f32,
    limit: f32,
    found: Option<Hit>,
    one_way: OneWay,
    /// All the segments of the shape.
    cores: &'a [Core],
    /// Closest-point queries made.
    queries: Cell<u32>,
}

/// Which facets and rounds of a patch to look at.
struct Obstacles<'a> {
    patch: &'a Patch,
    facets: Range<usize>,
    rounds: Range<usize>,
}

impl Obstacles<'_> {
    fn all(patch: &Patch) -> Obstacles<'_> {
        Obstacles { patch, facets: 0..patch.facets.len(), rounds: 0..patch.rounds.len() }
    }
}

impl<'a, M: Motion> Search<'a, M> {
    fn of(core: &'a Core, motion: M, tolerance: f32, graze: f32, limit: f32) -> Search<'a, M> {
        Search {
            core,
            motion,
            tolerance,
            graze,
            limit,
            found: None,
            one_way: OneWay::default(),
            cores: core::slice::from_ref(core),
            queries: Cell::new(0),
        }
    }

    fn of_shape(self, cores: &'a [Core]) -> Search<'a, M> {
        Search { cores, ..self }
    }

    fn through(mut self, Obstacles { patch, facets, rounds }: Obstacles<'_>) -> Option<Hit> {
        self.one_way = patch.one_way;
        let reach = self.core.radius + 4.0 * self.tolerance;
        let [low, high] = self.motion.bounds(self.limit);
        let min = (self.core.low + low.0).min(self.core.high + high.0);
        let max = (self.core.low + low.1).max(self.core.high + high.1);
        for (index, facet) in patch.facets_within(RoundedBox::new(min, max, reach), facets) {
            self.facet(index, facet);
        }
        let (min, max) = (min - Vec3::splat(reach), max + Vec3::splat(reach));
        for index in rounds {
            let (low, high) = patch.rounds[index].bounds();
            if low.cmple(max).all() && high.cmpge(min).all() {
                self.round(index, &patch.rounds[index]);
            }
        }
        patch.count_queries(self.queries.get());
        self.found
    }

    fn facet(&mut self, index: usize, facet: &Facet) {
        // One that is passed from below is there once all of the core is above it.
        let from = match self.one_way.there(facet, self.cores) {
            There::Now => 0.0,
            There::Once { rise, up } => match self.motion.risen(rise, up) {
                Some(from) => from,
                None => return,
            },
            There::Never => return,
        };
        // Most facets are passed over here: their plane alone says that they cannot be met in time.
        if self.plane_is_safe(facet, from, -self.tolerance).is_none_or(|t| t >= self.limit)
            || (from == 0.0 && self.edge_is_safe(facet))
        {
            return;
        }
        let plane = |search: &Search<'_, M>, t: f32, level: f32| search.plane_is_safe(facet, t, level);
        if let Some((time, closest)) = self.advance(from, |core| to_facet(core, facet), plane) {
            self.limit = time;
            self.found = Some(Hit { time, closest, obstacle: Obstacle::Facet(index) });
        }
    }

    fn round(&mut self, index: usize, round: &Round) {
        if let Some((time, closest)) = self.advance(0.0, |core| to_round(core, round), |_, t, _| Some(t)) {
            self.limit = time;
            self.found = Some(Hit { time, closest, obstacle: Obstacle::Round(index) });
        }
    }

    /// The time until which the face's own plane keeps the gap over `level`, from the pose at `t` on: `None` for
    /// ever, and `t` itself where the plane says nothing.
    fn plane_is_safe(&self, facet: &Facet, t: f32, level: f32) -> Option<f32> {
        let (low, high) = self.motion.at(t);
        let (low, high) = (facet.height_of(self.core.low + low), facet.height_of(self.core.high + high));
        let side = if low + high < 0.0 { -1.0 } else { 1.0 };
        let under = self.core.radius + facet.uneven + level;
        let heights = (low * side - under, high * side - under);
        if heights.0.min(heights.1) <= 0.0 {
            return Some(t);
        }
        self.motion.first_zero(t, heights, facet.normal * side)
    }

    /// True where one of the edges alone says that the facet cannot be met in time: seen straight at the edge from the
    /// end of the core nearer to the plane, all of the facet lies behind it.
    fn edge_is_safe(&self, facet: &Facet) -> bool {
        let (low, high) = (facet.height_of(self.core.low), facet.height_of(self.core.high));
        let (near, height) = if low.abs() <= high.abs() { (self.core.low, low) } else { (self.core.high, high) };
        facet.edges().iter().any(|edge| {
            let beyond = edge.beyond(near);
            if beyond <= 0.0 {
                return false;
            }
            let away = facet.normal * height + edge.outward * (beyond / edge.outward.length_squared());
            let length = away.length();
            let away = away / length;
            let under = self.core.radius + facet.uneven - self.tolerance;
            let reach = |end: Vec3| away.dot(end - edge.from) - under;
            let heights = (reach(self.core.low), reach(self.core.high));
            heights.0.min(heights.1) > 0.0 && self.motion.first_zero(0.0, heights, away).is_none_or(|t| t >= self.limit)
        })
    }

    /// How deep a gap that is `start` at first may become: to the tolerance, or by about half of it where it is that
    /// deep already. Deeper motion is stopped, and set back by more than that.
    fn level(&self, start: f32) -> f32 {
        (-self.tolerance).min(start - 0.6 * self.tolerance)
    }

    fn advance(
        &self,
        from: f32,
        closest_to: impl Fn(&Core) -> Closest,
        plane: impl Fn(&Search<'_, M>, f32, f32) -> Option<f32>,
    ) -> Option<(f32, Closest)> {
        let mut t = from;
        let mut core = if from > 0.0 { self.core_at(from) } else { *self.core };
        let closest_to = |core: &Core| {
            self.queries.set(self.queries.get() + 1);
            closest_to(core)
        };
        let mut closest = closest_to(&core);
        let level = self.level(closest.distance - self.core.radius);
        for _ in 0..M::MOST_ADVANCES {
            let height = closest.distance - self.core.radius - level;
            let touching = height <= 0.5 * self.tolerance && self.motion.leaving(t, &core, &closest) < -self.graze;
            let next = if touching {
                t
            } else {
                self.motion.first_zero(t, self.heights(&core, &closest, height), closest.normal)?
            };
            // Either direction alone keeps the core clear: a face that never closes outranks a closest point that
            // rounding has tilted.
            let next = next.max(plane(self, t, level)?);
            if next >= self.limit {
                return None;
            }
            if next <= t {
                return Some((t, closest));
            }
            t = next;
            core = self.core_at(t);
            closest = closest_to(&core);
        }
        Some((t, closest))
    }

    fn core_at(&self, t: f32) -> Core {
        let (low, high) = self.motion.at(t);
        Core { low: self.core.low + low, high: self.core.high + high, radius: self.core.radius }
    }

    /// How high each end of the core is over the plane through the closest points, of which the nearer is `height`.
    fn heights(&self, core: &Core, closest: &Closest, height: f32) -> (f32, f32) {
        let over = (core.high - core.low).dot(closest.normal);
        if over >= 0.0 { (height, height + over) } else { (height - over, height) }
    }
}

#[cfg(test)]
#[path = "sweep_tests.rs"]
mod tests;
