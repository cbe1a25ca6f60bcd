//! What was gathered for one tick, local to the character. All contact work happens in it.

use glam::{DVec3, Vec3};

use super::{Body, Facet, Round, Zone};

/// Facets, rounds and zones near a character, relative to [`Patch::origin`].
///
/// A [`Terrain`](crate::Terrain) fills it; its storage is reused from tick to tick.
#[derive(Clone, Debug, Default)]
pub struct Patch {
    origin: DVec3,
    min: Vec3,
    max: Vec3,
    pub(crate) facets: Vec<Facet>,
    pub(crate) rounds: Vec<Round>,
    pub(crate) zones: Vec<Zone>,
    pub(crate) bodies: Vec<Body>,
}

impl Patch {
    /// Empties it and sets where it is: `min` and `max` bound the box asked for, relative to `origin`.
    pub(crate) fn reset(&mut self, origin: DVec3, min: Vec3, max: Vec3) {
        self.origin = origin;
        (self.min, self.max) = (min, max);
        self.facets.clear();
        self.rounds.clear();
        self.zones.clear();
        self.bodies.clear();
        self.bodies.push(Body::WORLD);
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
        self.bodies.push(body);
        (self.bodies.len() - 1) as u16
    }

    /// Adds a facet.
    pub fn add_facet(&mut self, facet: Facet) {
        self.facets.push(facet);
    }

    /// Adds a round obstacle.
    pub fn add_round(&mut self, round: Round) {
        self.rounds.push(round);
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

    /// Puts what was gathered into the one order that every run sees, whatever order the terrain answered in.
    pub(crate) fn sort(&mut self) {
        // The world alone is the rule, and needs no looking up of names.
        if self.bodies.len() == 1 && self.rounds.is_empty() && self.zones.is_empty() {
            self.facets.sort_unstable_by_key(|f| f.id);
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
        self.zones.sort_unstable_by_key(|z| z.id);
    }
}
