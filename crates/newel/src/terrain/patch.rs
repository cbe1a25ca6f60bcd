//! The geometry gathered for one slice, local to the character. All contact work happens in it.

use core::cell::Cell;
use core::ops::Range;

use glam::{DVec3, Vec3};

use super::bounds::FacetBounds;
use super::{Body, Facet, OneWay, Round, RoundedBox, Terrain, When, Zone};
use crate::region::Region;

/// Nothing that can be touched is further away than this, metres: what is, is the terrain's mistake, and must not become
/// the state's.
const FARTHEST: f32 = 1e7;

fn is_within_reason(place: Vec3) -> bool {
    place.abs().cmple(Vec3::splat(FARTHEST)).all()
}

/// Facets, rounds and zones near a character, relative to [`Patch::origin`].
///
/// A [`Terrain`](crate::Terrain) fills it; its storage is reused from tick to tick. What belongs to a moving body is
/// handed over where it is when the tick begins; the tick then keeps it where it is at the moment being looked at.
#[derive(Clone, Debug, Default)]
pub struct Patch {
    origin: DVec3,
    min: Vec3,
    max: Vec3,
    pub(crate) facets: Vec<Facet>,
    pub(crate) rounds: Vec<Round>,
    pub(crate) zones: Vec<Zone>,
    pub(crate) bodies: Vec<Body>,
    /// The bounds of each facet, side by side.
    bounds: Vec<FacetBounds>,
    /// For whom its one-way facets are there.
    pub(crate) one_way: OneWay,
    /// True where one of its facets is passed from below.
    pub(crate) has_one_way: bool,
    /// Storage for a terrain that sorts what it adds.
    #[cfg(feature = "mesh")]
    pub(crate) order: Vec<u64>,
    /// Facets and rounds in stretches of one body each; empty while everything stands still.
    stretches: Vec<Stretch>,
    /// Moving geometry at the start of the slice.
    resting_facets: Vec<Facet>,
    resting_rounds: Vec<Round>,
    posed: f64,
    /// Closest-point queries since the count was last set to zero.
    queries: Cell<u32>,
    /// The union of all terrain queries since the last `take_asked`.
    asked: Cell<Region>,
}

/// Neighbours in the order of the patch that belong to one body.
#[derive(Clone, Debug)]
pub(crate) struct Stretch {
    pub body: u16,
    pub facets: Range<usize>,
    pub rounds: Range<usize>,
}

impl Patch {
    /// The geometry of a terrain between two corners, in the world, in the order that ticks see it: for planners, maps and pictures. Its origin is
    /// the middle. Empty where a corner is not finite.
    ///
    /// ```
    /// # use newel::{Mesh, Patch, When, glam::DVec3};
    /// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
    /// let when = When::tick(0, 1.0 / 60.0);
    /// let near = Patch::of(&level, when, DVec3::splat(-1.0), DVec3::splat(1.0));
    /// assert_eq!(near.facets().len(), 1);
    /// ```
    #[must_use]
    pub fn of(terrain: &dyn Terrain, when: When, low: DVec3, high: DVec3) -> Patch {
        let mut patch = Patch::default();
        if low.is_finite() && high.is_finite() {
            let half = (0.5 * (high - low)).as_vec3();
            patch.reset(0.5 * (low + high), -half, half);
            terrain.gather(when, &mut patch);
            patch.sort();
            patch.take_note();
        }
        patch
    }

    /// Empties it and sets where it is: `min` and `max` bound the box asked for, relative to `origin`.
    pub(crate) fn reset(&mut self, origin: DVec3, min: Vec3, max: Vec3) {
        self.origin = origin;
        (self.min, self.max) = (min, max);
        self.facets.clear();
        self.rounds.clear();
        self.zones.clear();
        self.bodies.clear();
        self.bodies.push(Body::WORLD);
        self.bounds.clear();
        self.stretches.clear();
        self.posed = 0.0;
    }

    /// Counts closest-point queries: the work of a tick in a figure that is the same on every machine.
    pub(crate) fn count_queries(&self, count: u32) {
        self.queries.set(self.queries.get().saturating_add(count));
    }

    /// The queries counted since the last call.
    pub(crate) fn take_queries(&self) -> u32 {
        self.queries.take()
    }

    /// Adds a terrain query.
    pub(crate) fn note_asked(&self, region: Region) {
        self.asked.set(self.asked.get().and(region));
    }

    /// The union of all terrain queries since the last call.
    pub(crate) fn take_asked(&self) -> Region {
        self.asked.take()
    }

    /// The point of the world that is zero in the patch.
    #[must_use]
    pub fn origin(&self) -> DVec3 {
        self.origin
    }

    /// The box that was asked for, relative to the origin.
    #[must_use]
    pub fn bounds(&self) -> (Vec3, Vec3) {
        (self.min, self.max)
    }

    /// The box that was asked for, in the world.
    #[must_use]
    pub fn world_bounds(&self) -> (DVec3, DVec3) {
        (self.origin + self.min.as_dvec3(), self.origin + self.max.as_dvec3())
    }

    /// Adds a body and returns the index that its facets and rounds carry.
    ///
    /// Index 0 is always [`Body::WORLD`]. At most 65,535 others fit; what comes after shares the last.
    pub fn add_body(&mut self, body: Body) -> u16 {
        if self.bodies.len() > usize::from(u16::MAX) {
            return u16::MAX;
        }
        self.bodies.push(body.sane());
        (self.bodies.len() - 1) as u16
    }

    /// Adds a facet; one with a number that is not finite, or a corner over 10,000 km away, is left out.
    pub fn add_facet(&mut self, facet: Facet) {
        let corners = [facet.a, facet.b, facet.c].into_iter().all(is_within_reason);
        if corners && is_within_reason(facet.normal) && facet.offset.is_finite() && facet.uneven.is_finite() {
            self.facets.push(facet);
        }
    }

    /// Adds a round obstacle; one with a number that is not finite, or over 10,000 km, or with a radius under 0 is left out.
    pub fn add_round(&mut self, round: Round) {
        if is_within_reason(round.a) && is_within_reason(round.b) && (0.0..=FARTHEST).contains(&round.radius) {
            self.rounds.push(round);
        }
    }

    /// Adds a zone (in world coordinates).
    pub fn add_zone(&mut self, zone: Zone) {
        self.zones.push(zone);
    }

    /// The facets, in the order the tick sees them.
    #[must_use]
    pub fn facets(&self) -> &[Facet] {
        &self.facets
    }

    /// The facets of a stretch of the patch that may be within a rounded box, each with its index.
    pub(crate) fn facets_within(
        &self,
        within: RoundedBox,
        stretch: Range<usize>,
    ) -> impl Iterator<Item = (usize, &Facet)> {
        let near = stretch.clone().zip(&self.bounds[stretch]).filter(move |(_, bounds)| within.may_hold(bounds));
        near.map(|(index, _)| (index, &self.facets[index]))
    }

    /// The same of the whole patch.
    pub(crate) fn facets_near(&self, within: RoundedBox) -> impl Iterator<Item = (usize, &Facet)> {
        self.facets_within(within, 0..self.facets.len())
    }

    /// The round obstacles.
    #[must_use]
    pub fn rounds(&self) -> &[Round] {
        &self.rounds
    }

    /// The zones.
    #[must_use]
    pub fn zones(&self) -> &[Zone] {
        &self.zones
    }

    /// The bodies; the first is the world itself.
    #[must_use]
    pub fn bodies(&self) -> &[Body] {
        &self.bodies
    }

    /// True where something in it moves in this tick.
    pub(crate) fn is_moving(&self) -> bool {
        !self.stretches.is_empty()
    }

    /// Its content, body by body. `None` where nothing moves: then there is no need to tell bodies apart.
    pub(crate) fn stretches(&self) -> Option<&[Stretch]> {
        self.is_moving().then_some(&self.stretches)
    }

    /// The seconds into the tick at which what moves is where it is now.
    pub(crate) fn posed(&self) -> f64 {
        self.posed
    }

    /// The body with the game's own name `id`, and its index.
    pub(crate) fn body_named(&self, id: u64) -> Option<(u16, &Body)> {
        self.bodies.iter().position(|b| b.id == id).map(|i| (i as u16, &self.bodies[i]))
    }

    /// Notes the bounds, and what moves, once all is gathered and sorted.
    pub(crate) fn take_note(&mut self) {
        self.bounds.extend(self.facets.iter().map(FacetBounds::of));
        self.has_one_way = self.facets.iter().any(|facet| facet.one_way);
        if self.bodies.iter().all(Body::is_still) {
            return;
        }
        self.resting_facets.clone_from(&self.facets);
        self.resting_rounds.clone_from(&self.rounds);
        let mut start = 0;
        for stretch in self.facets.chunk_by(|a, b| a.body == b.body) {
            let facets = start..start + stretch.len();
            start = facets.end;
            self.stretches.push(Stretch { body: stretch[0].body, facets, rounds: 0..0 });
        }
        start = 0;
        for stretch in self.rounds.chunk_by(|a, b| a.body == b.body) {
            let rounds = start..start + stretch.len();
            start = rounds.end;
            self.stretches.push(Stretch { body: stretch[0].body, facets: 0..0, rounds });
        }
    }

    /// Puts all that moves to where it is `t` seconds into the tick.
    pub(crate) fn pose(&mut self, t: f64) {
        if self.posed == t {
            return;
        }
        self.posed = t;
        for stretch in &self.stretches {
            let body = self.body(stretch.body);
            if body.is_still() {
                continue;
            }
            let pose = body.pose(t);
            let carry = |p: Vec3| (pose.carry(p.as_dvec3() + self.origin) - self.origin).as_vec3();
            for i in stretch.facets.clone() {
                self.facets[i] = self.resting_facets[i].carried(carry, |n| pose.turn(n.as_dvec3()).as_vec3());
                self.bounds[i] = FacetBounds::of(&self.facets[i]);
            }
            for i in stretch.rounds.clone() {
                let resting = self.resting_rounds[i];
                self.rounds[i] = Round { a: carry(resting.a), b: carry(resting.b), ..resting };
            }
        }
    }

    /// The body that an index of a facet or round names.
    pub(crate) fn body(&self, index: u16) -> Body {
        self.bodies.get(usize::from(index)).copied().unwrap_or(Body::WORLD)
    }

    /// The game's own name of the body that an index of a facet or round names.
    pub(crate) fn body_name(&self, index: u16) -> u64 {
        if index == 0 { 0 } else { self.bodies.get(usize::from(index)).map_or(u64::MAX, |body| body.id) }
    }

    /// Puts what was gathered into the one order that every run sees, whatever order the terrain answered in.
    pub(crate) fn sort(&mut self) {
        // The world alone is the rule, and needs no looking up of names.
        if self.bodies.len() == 1 && self.rounds.is_empty() && self.zones.is_empty() {
            if !self.facets.is_sorted_by_key(|f| f.id) {
                self.facets.sort_unstable_by_key(|f| f.id);
            }
            return;
        }
        let body_ids = &self.bodies;
        let name = |body: u16| body_ids.get(usize::from(body)).map_or(u64::MAX, |b| b.id);
        if !self.facets.is_sorted_by_key(|f| (name(f.body), f.id)) {
            self.facets.sort_unstable_by_key(|f| (name(f.body), f.id));
        }
        if !self.rounds.is_sorted_by_key(|r| (name(r.body), r.id)) {
            self.rounds.sort_unstable_by_key(|r| (name(r.body), r.id));
        }
        self.zones.sort_unstable_by_key(|z| (z.priority, z.id));
    }
}
