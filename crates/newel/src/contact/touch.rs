//! Contacts at the present place.

use glam::{DVec3, Vec3};

use super::closest::{Closest, Feature, is_beyond, to_facet, to_round};
use super::key::ObstacleKey;
use super::point::{Asked, Contact};
use super::surroundings::Surroundings;
use super::sweep::{Hit, Obstacle};
use crate::limits::Limits;
use crate::shape::Cores;
use crate::terrain::Patch;

/// A turning body moves on a curve while a character pushed by it goes straight: it is pushed a little faster, as much
/// as takes it this part of the skin off before they touch again, or it would be pushed in ever smaller pieces.
const LEAD: f64 = 0.02;

/// How fast a character goes against what pushes it, for want of knowing, m/s.
const USUAL_SPEED: f64 = 3.0;

/// A normal whose part in the plane is shorter than this belongs to something beside the plane.
const BESIDE: f32 = 1e-2;

impl Surroundings<'_> {
    /// True where something too steep to walk on, or round, is near enough that it may touch.
    pub fn is_beside_steep(&self, limits: &Limits) -> bool {
        let mut near = self.patch.facets_near(self.rounded_bounds(&self.cores(), self.shape.touching()));
        !self.patch.rounds.is_empty() || near.any(|(_, facet)| facet.normal.dot(self.up).abs() < limits.least_up)
    }

    /// Fills `self.contacts` with all that is closer than `reach` to the tuned surface.
    pub fn touch(&mut self, reach: f32) {
        let (low, high) = self.shape_bounds(&self.cores());
        self.ensure(low - Vec3::splat(reach), high + Vec3::splat(reach));
        let asked = Asked { place: self.place, time: self.time, reach, gathers: self.gathers };
        if self.asked.replace(asked) == Some(asked) {
            return;
        }
        let cores = self.cores();
        let within = self.shape.rounding() + reach;
        self.contacts.clear();
        for (index, facet) in self.patch.facets_near(self.rounded_bounds(&cores, reach)) {
            if self.patch.one_way.is_open(facet, &cores) {
                continue;
            }
            let near = cores.iter().filter(|core| !is_beyond(core, facet, within)).map(|core| {
                self.patch.count_queries(1);
                to_facet(core, facet)
            });
            let Some(closest) = near.reduce(nearer).filter(|c| c.distance < within) else { continue };
            self.contacts.push(self.contact_of(&cores, &Hit { time: 0.0, closest, obstacle: Obstacle::Facet(index) }));
        }
        self.patch.count_queries((cores.len() * self.patch.rounds.len()) as u32);
        for (index, round) in self.patch.rounds.iter().enumerate() {
            let closest = nearest(cores.iter().map(|core| to_round(core, round)));
            if closest.distance < within {
                let hit = Hit { time: 0.0, closest, obstacle: Obstacle::Round(index) };
                self.contacts.push(self.contact_of(&cores, &hit));
            }
        }
        if self.keeps.is_plane() {
            // A contact square to the plane is beside the character, not in its way.
            self.contacts.retain(|c| c.normal != Vec3::ZERO);
        }
    }

    /// The same contact as it is at the present place; `None` where nothing of that name is near.
    pub fn refreshed(&self, contact: &Contact) -> Option<Contact> {
        if contact.gathered != self.gathers {
            // Of several with one name it is the one that is touched from there.
            let alike = |c: &Contact| c.normal.dot(contact.normal);
            return self.named(contact.key).reduce(|a, b| if alike(&b) > alike(&a) { b } else { a });
        }
        Some(self.at_obstacle(contact.obstacle))
    }

    /// How the obstacle with a name is touched at the present place, or how far off it is: the nearest of several with that name.
    pub fn contact_named(&self, key: ObstacleKey) -> Option<Contact> {
        self.named(key).reduce(|a, b| if b.gap < a.gap { b } else { a })
    }

    fn named(&self, key: ObstacleKey) -> impl Iterator<Item = Contact> {
        key.find(self.patch).map(|obstacle| self.at_obstacle(obstacle))
    }

    /// How an obstacle is touched, or how far it is, at the present place.
    pub(super) fn at_obstacle(&self, obstacle: Obstacle) -> Contact {
        let cores = self.cores();
        self.patch.count_queries(cores.len() as u32);
        let closest = match obstacle {
            Obstacle::Facet(i) => nearest(cores.iter().map(|core| to_facet(core, &self.patch.facets[i]))),
            Obstacle::Round(i) => nearest(cores.iter().map(|core| to_round(core, &self.patch.rounds[i]))),
        };
        self.contact_of(&cores, &Hit { time: 0.0, closest, obstacle })
    }

    pub(super) fn contact_of(&self, cores: &Cores, hit: &Hit) -> Contact {
        let mut contact = match hit.obstacle {
            Obstacle::Facet(i) => facet_contact(cores, self.patch, i, &hit.closest, self.gathers),
            Obstacle::Round(i) => round_contact(self.patch, i, &hit.closest, self.gathers),
        };
        contact.gap = hit.closest.distance - self.shape.rounding();
        if self.keeps.is_plane() {
            contact = self.in_plane(contact);
        }
        if self.patch.is_moving() { self.moving(contact) } else { contact }
    }

    /// The same contact as far as it matters to motion in the plane.
    fn in_plane(&self, contact: Contact) -> Contact {
        let flat = |n: Vec3| {
            let n = self.keeps.flat(n);
            if n.length() > BESIDE { n / n.length() } else { Vec3::ZERO }
        };
        Contact { normal: flat(contact.normal), face: flat(contact.face), ..contact }
    }

    /// The same contact, with how the body moves there.
    fn moving(&self, contact: Contact) -> Contact {
        let body = self.patch.body(contact.body);
        let at = self.patch.origin() + contact.point.as_dvec3();
        let velocity = body.velocity_at(at, self.time);
        let spin = if body.id == self.ridden { 0.0 } else { body.spin.length() };
        let bend = spin * ((velocity - body.velocity).length() + 2.0 * (velocity.length() + USUAL_SPEED));
        let lead = (2.0 * bend * LEAD * f64::from(self.shape.skin())).sqrt();
        Contact { velocity, lead, ..contact }
    }
}

fn facet_contact(cores: &Cores, patch: &Patch, index: usize, found: &Closest, gathered: u32) -> Contact {
    let facet = &patch.facets[index];
    let along = facet.normal.dot(found.normal);
    let middle = facet.height_of(cores.middle());
    // A contact square to the face says nothing of the side: then the middle of the character does.
    let front = if along.abs() > 1e-3 { along > 0.0 } else { middle >= 0.0 };
    Contact {
        normal: found.normal,
        face: if front { facet.normal } else { -facet.normal },
        point: found.on_obstacle,
        gap: 0.0,
        feature: found.feature,
        surface: facet.surface,
        body: facet.body,
        velocity: DVec3::ZERO,
        lead: 0.0,
        obstacle: Obstacle::Facet(index),
        key: ObstacleKey::of(patch, Obstacle::Facet(index)),
        gathered,
    }
}

fn round_contact(patch: &Patch, index: usize, found: &Closest, gathered: u32) -> Contact {
    let round = &patch.rounds[index];
    Contact {
        normal: found.normal,
        face: found.normal,
        point: found.on_obstacle,
        gap: 0.0,
        feature: Feature::Round,
        surface: round.surface,
        body: round.body,
        velocity: DVec3::ZERO,
        lead: 0.0,
        obstacle: Obstacle::Round(index),
        key: ObstacleKey::of(patch, Obstacle::Round(index)),
        gathered,
    }
}

fn nearer(a: Closest, b: Closest) -> Closest {
    if b.distance < a.distance { b } else { a }
}

/// The closest of what the segments of a shape, of which there is at least one, are closest to.
fn nearest(found: impl Iterator<Item = Closest>) -> Closest {
    found.reduce(nearer).unwrap_or(Closest::NONE)
}
