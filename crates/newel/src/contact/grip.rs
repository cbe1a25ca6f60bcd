//! Surfaces in front of the hands that give hold.

use glam::Vec3;

use super::point::Contact;
use super::surroundings::Surroundings;
use crate::terrain::{Effect, Facet, Hold, Round, Zone};

/// How far past its border a surface still gives hold, metres: an edge between two facets is no gap.
pub(crate) const SEAM: f32 = 1e-3;
/// The least sine at which hands reach for a face; less by as much as they reach further past its border.
const EDGE_ON: f32 = 0.05;
/// How much deeper than the touch what is before the hands may be, in parts of the radius.
const DEEPER: f32 = 0.5;
/// Pieces of a ladder closer than this, metres, are one.
const ONE_LADDER: f32 = 0.02;

/// The contact that the hands hold.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Grip {
    pub hold: Hold,
    pub surface: u16,
}

impl Surroundings<'_> {
    /// The middle of the character at the height of its hands, in the patch.
    pub fn hands(&self, part: f32) -> Vec3 {
        self.local() + self.up * (part * self.shape.height)
    }

    /// The zone that holds by itself whose inside the hands are in, or at most `seam` out of, and which way out of it is.
    pub fn volume_at(&self, hands: Vec3, seam: f32) -> Option<(Grip, Vec3, Zone)> {
        let place = self.patch.origin() + hands.as_dvec3();
        let near = |zone: &Zone| place.max(zone.min).min(zone.max).distance(place) <= f64::from(seam);
        let holding = |zone: &&Zone| near(zone);
        self.patch.zones().iter().rev().filter(holding).find_map(|zone| match zone.effect {
            Effect::Hold { hold, out } if out != Vec3::ZERO && hold != Hold::None => {
                Some((Grip { hold, surface: 0 }, out, *zone))
            }
            _ => None,
        })
    }

    /// What the surface that is touched like this gives to hands at this point of the character's middle, at most `seam` past its
    /// border and `deeper` than it may be.
    pub fn grip(&mut self, hands: Vec3, touch: &Contact, seam: f32, deeper: f32) -> Option<Grip> {
        let level = touch.normal - self.up * touch.normal.dot(self.up);
        let slant = level.length();
        if slant < 0.1 {
            return None;
        }
        let toward = -level / slant;
        let to_plane = (hands - touch.point).dot(touch.normal) / slant;
        let reach = to_plane.max(0.0) + DEEPER * self.shape.radius + deeper;
        let end = hands + toward * reach;
        let pad = Vec3::splat(seam);
        self.ensure(hands.min(end) - pad, hands.max(end) + pad);
        let facets = self.patch.facets.iter().filter_map(|f| Some((to_face(f, hands, toward, seam)?, f.surface)));
        let rounds = self.patch.rounds.iter().filter_map(|r| Some((to_pole(r, hands, toward, seam)?, r.surface)));
        let mut found: Option<(f32, Grip)> = None;
        for (far, surface) in facets.chain(rounds).filter(|(far, _)| *far <= reach) {
            let grip = Grip { hold: self.hold_at(surface, hands + toward * far), surface };
            // Among contacts at the same distance, one that gives hold comes first.
            let before = found.is_none_or(|(nearest, held)| match (held.hold, grip.hold) {
                (Hold::None, Hold::None) => far < nearest,
                (Hold::None, _) => far < nearest + seam,
                (_, Hold::None) => far < nearest - seam,
                _ => far < nearest,
            });
            found = if before { Some((far, grip)) } else { found };
        }
        found.map(|(_, grip)| grip).filter(|grip| grip.hold != Hold::None)
    }

    /// How far to the right of the hands the middle of the ladder before them is, where they hold one.
    pub fn ladder_middle(&self, hands: Vec3, touch: &Contact, right: Vec3) -> f32 {
        let is_rung = |surface: u16, at: Vec3| self.hold_at(surface, at) == Hold::Ladder;
        let near = |f: &&Facet| {
            let flush = f.normal.dot(touch.normal).abs() > 0.9 && f.height_of(touch.point).abs() < 0.1;
            flush && is_rung(f.surface, (f.a + f.b + f.c) / 3.0)
        };
        let stretches = |f: &Facet| stretch_at(f, hands, self.up, right);
        let (mut low, mut high) = (0.0f32, 0.0f32);
        loop {
            let before = (low, high);
            for (from, to) in self.patch.facets.iter().filter(near).filter_map(stretches) {
                if from <= high + ONE_LADDER && to >= low - ONE_LADDER {
                    (low, high) = (low.min(from), high.max(to));
                }
            }
            if (low, high) == before {
                return 0.5 * (low + high);
            }
        }
    }

    /// True where what is touched gives hold by itself.
    pub fn gives_hold(&self, contact: &Contact) -> bool {
        self.hold_at(contact.surface, contact.point) != Hold::None
    }

    /// The hold of a surface at a place: the zones there have the last word.
    fn hold_at(&self, surface: u16, at: Vec3) -> Hold {
        match self.zoned(at) {
            Hold::None => self.terrain().hold(surface),
            zoned => zoned,
        }
    }

    /// What the zones that have no way out of their own make of whatever is touched there.
    fn zoned(&self, at: Vec3) -> Hold {
        let place = self.patch.origin() + at.as_dvec3();
        let there = self.patch.zones().iter().rev().filter(|zone| zone.holds(place));
        let holds = |zone: &Zone| match zone.effect {
            Effect::Hold { hold, out } if out == Vec3::ZERO => Some(hold),
            _ => None,
        };
        there.filter_map(holds).next().unwrap_or_default()
    }
}

/// How far along a ray a face is; its border counts.
fn to_face(facet: &Facet, from: Vec3, along: Vec3, seam: f32) -> Option<f32> {
    let closing = facet.normal.dot(along);
    // A surface seen almost edge-on comes last.
    if closing.abs() < EDGE_ON * (SEAM / seam) {
        return None;
    }
    let far = -facet.height_of(from) / closing;
    let at = from + along * far;
    let inside = facet.edges().iter().all(|edge| edge.beyond(at) <= seam * edge.outward.length());
    (far >= 0.0 && inside).then_some(far)
}

/// How far along a ray a pole is.
fn to_pole(round: &Round, from: Vec3, along: Vec3, seam: f32) -> Option<f32> {
    let (axis, off) = (round.b - round.a, from - round.a);
    let square = axis.length_squared();
    let (flat_along, flat_off) = match square > 0.0 {
        true => (along - axis * (along.dot(axis) / square), off - axis * (off.dot(axis) / square)),
        false => (along, off),
    };
    let speed = flat_along.length_squared();
    if speed < 1e-6 {
        return None;
    }
    let far = -flat_off.dot(flat_along) / speed;
    let at = from + along * far;
    let part = if square > 0.0 { (at - round.a).dot(axis) / square } else { 0.0 };
    let reach = round.radius + seam;
    let off = (flat_off + flat_along * far).length();
    let ends = (part.clamp(0.0, 1.0) - part).abs() * square.sqrt();
    // Before its middle by as much as the ray is in it.
    let chord = ((round.radius * round.radius - off * off).max(0.0) / speed).sqrt();
    (far >= 0.0 && off <= reach && ends <= seam).then(|| (far - chord).max(0.0))
}

/// The stretch of a facet, along `right` from `at`, that is level with that; `None` where none of it is.
fn stretch_at(facet: &Facet, at: Vec3, up: Vec3, right: Vec3) -> Option<(f32, f32)> {
    let corners = [facet.a, facet.b, facet.c, facet.a].map(|c| ((c - at).dot(right), (c - at).dot(up)));
    let mut found: Option<(f32, f32)> = None;
    for side in corners.windows(2) {
        let ((x0, y0), (x1, y1)) = (side[0], side[1]);
        if y0 * y1 <= 0.0 {
            let x = if y0 == y1 { x0 } else { x0 + (x1 - x0) * (y0 / (y0 - y1)) };
            found = Some(found.map_or((x, x), |(low, high)| (low.min(x), high.max(x))));
        }
    }
    found
}
