//! Contacts, as reported to a listener of the tick.

use super::closest::Feature;
use super::point::Contact;
use super::surroundings::Surroundings;
use super::sweep::Obstacle;
use crate::explain::{Note, Seen, SeenContact, SeenFacet};

impl Surroundings<'_> {
    /// Tells whoever listens what was seen here and now; makes nothing up where nobody does.
    #[inline]
    pub fn tell(&mut self, seen: impl FnOnce(&Self) -> Seen) {
        // Earlier ticks have reported everything before this tick.
        let time = self.begins + self.time();
        if self.listener.is_on() && time >= 0.0 {
            let note = Note { time, place: self.place, seen: seen(self) };
            self.listener.hear(note);
        }
    }

    /// A contact as the world sees it.
    pub fn seen(&self, contact: &Contact) -> SeenContact {
        let (id, round) = match contact.obstacle {
            Obstacle::Facet(i) => (self.patch.facets.get(i).map_or(0, |f| f.id), false),
            Obstacle::Round(i) => (self.patch.rounds.get(i).map_or(0, |r| r.id), true),
        };
        SeenContact {
            body: self.patch.body(contact.body).id,
            id,
            round,
            point: self.patch.origin() + contact.point.as_dvec3(),
            normal: contact.normal,
            face: contact.face,
            gap: contact.gap,
            edge: matches!(contact.feature, Feature::Edge(_)),
            surface: contact.surface,
        }
    }

    /// All that was gathered, as the world sees it.
    pub fn seen_facets(&self) -> Vec<SeenFacet> {
        let origin = self.patch.origin();
        let seen = |f: &crate::terrain::Facet| SeenFacet {
            body: self.patch.body(f.body).id,
            id: f.id,
            corners: [f.a, f.b, f.c].map(|p| origin + p.as_dvec3()),
            normal: f.normal,
            surface: f.surface,
        };
        self.patch.facets.iter().map(seen).collect()
    }
}
