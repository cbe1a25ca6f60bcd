//! Obstacles to the wish, for the readout.

use super::Run;
use crate::contact::point::Contact;
use crate::outcome::Barred;

/// A contact that opposes the way by less than this is no obstacle: it only leads along.
const LEADS_ALONG: f32 = 0.05;

impl Run<'_> {
    /// The contact that opposes the wish most; or the edge that it will not walk over.
    pub fn barred(&self) -> Option<Barred> {
        let at_edge = self.held_at == Some(self.near.place);
        if !at_edge && self.walls.iter().next().is_none() {
            return None;
        }
        let way = self.heading_flat();
        let length = way.length();
        if length == 0.0 {
            return None;
        }
        let against = |contact: &Contact| -contact.normal.dot(way) / length;
        let most = self.walls.iter().reduce(|a, b| if against(b) > against(a) { b } else { a });
        if let Some(wall) = most.filter(|contact| against(contact) > LEADS_ALONG) {
            let point = self.near.patch.origin() + wall.point.as_dvec3();
            let body = self.near.patch.body(wall.body).id;
            return Some(Barred { body, point, normal: wall.normal, surface: wall.surface, edge: false });
        }
        let (body, surface) = (self.ground.body, self.ground.surface);
        at_edge.then(|| Barred { body, point: self.near.place, normal: -way / length, surface, edge: true })
    }
}
