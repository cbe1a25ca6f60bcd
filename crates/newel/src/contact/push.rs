//! Out of what overlaps: for a spawn, a teleport, or terrain that changed under the character.

use glam::{DVec3, Vec3};

use super::point::Contact;
use super::slide::Planes;
use super::surroundings::Surroundings;
use crate::error::SpawnError;
use crate::math::direction;

/// Corrections before it gives up: a corner of three surfaces takes three, a narrow wedge some more.
const MOST_CORRECTIONS: usize = 24;

impl Surroundings<'_> {
    /// Moves out of the deepest of the contacts found last by the hair that sweeps leave: a sweep stops at what it meets first, and what is all
    /// but parallel to the way may come a little nearer with each of many short ones. A deeper overlap is not a sweep's doing and is left to
    /// whoever pushes out of it.
    pub fn ease_out(&mut self) {
        let still = self.contacts.iter().filter(|c| c.velocity == DVec3::ZERO);
        let deepest = still.copied().reduce(|a, b| if b.gap < a.gap { b } else { a });
        let hair = -0.5 * self.shape.skin()..-2.0 * self.shape.tolerance();
        if let Some(contact) = deepest.filter(|c| hair.contains(&c.gap)) {
            self.place += (contact.normal * -contact.gap).as_dvec3();
        }
    }

    /// Makes sure that the character is clear where it is, moving it out of its own skin if need be.
    pub fn require_clear(&mut self) -> Result<(), SpawnError> {
        let skin = self.shape.skin();
        // Within the skin is close enough: stand on the surface, not in it. Where that has no room, as in a slit that is narrower
        // by less than the skin, it is not clear.
        if self.overlap() <= 0.0 && !self.is_buried() && self.push_out(0.5 * skin, 2.0 * skin) {
            return Ok(());
        }
        let wanted = self.place;
        let nearest = self.nearest_clear(8.0 * self.shape.height);
        Err(SpawnError::NotClear { wanted: wanted.to_array(), nearest: nearest.map(|p| p.to_array()) })
    }

    /// The deepest of the contacts found last that is a moving body's; one that has come to rest counts `at_rest`.
    pub fn mover_touched(&self, at_rest: bool) -> Option<Contact> {
        let moves = |c: &&Contact| {
            let body = self.patch.body(c.body);
            !body.is_still() || (at_rest && body.id != 0)
        };
        self.contacts.iter().filter(moves).copied().reduce(|a, b| if b.gap < a.gap { b } else { a })
    }

    /// How deep the character is in something, metres: zero or less where it is clear of everything by its skin.
    pub fn overlap(&mut self) -> f32 {
        self.touch(0.0);
        let skin = self.shape.skin();
        self.contacts.iter().map(|c| -c.gap - skin).fold(-skin, f32::max)
    }

    /// Moves out of everything that is deeper than `allowed` under the tuned surface, the nearest way found.
    /// Returns false, and stays where it was, where there is no way out within `most` metres.
    pub fn push_out(&mut self, allowed: f32, most: f32) -> bool {
        let start = self.place;
        // A contact within the tolerance counts, on either side.
        let touching = self.shape.touching();
        for _ in 0..MOST_CORRECTIONS {
            self.touch(touching);
            let Some(way) = self.way_out(allowed) else { return true };
            self.place += way;
            if (self.place - start).length() > f64::from(most) {
                self.place = start;
                return false;
            }
        }
        self.touch(touching);
        if self.way_out(allowed).is_none() {
            return true;
        }
        self.place = start;
        false
    }

    /// The correction for the deepest contact, turned along the others so that it leaves none of them deeper.
    fn way_out(&self, allowed: f32) -> Option<DVec3> {
        let deepest = self.contacts.iter().reduce(|a, b| if b.gap < a.gap { b } else { a })?;
        if deepest.gap >= -allowed {
            return None;
        }
        let out = (deepest.normal * -deepest.gap).as_dvec3();
        let mut others = Planes::default();
        for contact in self.contacts.iter() {
            others.add(contact.normal.as_dvec3());
        }
        let turned = others.admissible(out);
        let useful = turned.dot(deepest.normal.as_dvec3());
        // Square on between two surfaces there is no turning: take the plain way and let the next round judge.
        Some(if useful > 0.1 * out.length() { turned * (f64::from(-deepest.gap) / useful) } else { out })
    }

    /// The nearest clear place to this one, searched in growing shells up to `most` metres; `None` where there is
    /// none. The character stays where it is.
    pub fn nearest_clear(&mut self, most: f32) -> Option<DVec3> {
        let start = self.place;
        let mut found = None;
        let first = self.shape.radius * 0.5;
        let mut distance = 0.0;
        while distance <= most && found.is_none() {
            let mut nearest = f64::INFINITY;
            let keeps = self.keeps;
            for way in ways(self.up).map(|way| keeps.flat(way)) {
                self.place = start + (way * distance).as_dvec3();
                if self.push_out(0.0, self.shape.radius) && !self.is_buried() && !self.is_under_the_world() {
                    let off = (self.place - start).length();
                    if off < nearest {
                        (nearest, found) = (off, Some(self.place));
                    }
                }
            }
            distance = if distance == 0.0 { first } else { distance * 1.5 };
        }
        self.place = start;
        found
    }

    /// True where nothing stands between the middle of the character as it was at `from` and its middle now.
    pub fn is_open_from(&self, from: DVec3) -> bool {
        let way = (self.place - from).as_vec3();
        let middle = from + (self.middle() - self.place);
        direction(way).is_none_or(|along| self.cast_within(middle, along, f64::from(way.length())).is_none())
    }

    /// True where the character is inside something solid without touching its surface: there is something overhead
    /// seen from behind, and so is most of what there is about it. A lone sheet with its back to the character is not
    /// enough; a rock may stand on a floor.
    pub fn is_buried(&self) -> bool {
        let middle = self.middle();
        let from_behind = |way: Vec3| self.cast(middle, way).is_some_and(|normal| normal.dot(way) > 0.0);
        // Across the plane that is kept to there is nothing to see.
        let ways = || ways(self.up).filter_map(|way| direction(self.keeps.flat(way)));
        let above = self.keeps.is_top_view(self.up) || from_behind(self.up);
        above && 2 * ways().filter(|way| from_behind(*way)).count() > ways().count()
    }

    /// True where there is land above, seen from behind, and nothing below.
    fn is_under_the_world(&self) -> bool {
        let middle = self.middle();
        let from_behind = |normal: Vec3| normal.dot(self.up) > 0.0;
        !self.keeps.is_top_view(self.up)
            && self.cast(middle, self.up).is_some_and(from_behind)
            && self.cast(middle, -self.up).is_none()
    }
}

/// Up, down, and twenty-four directions about.
fn ways(up: Vec3) -> impl Iterator<Item = Vec3> {
    let ahead = crate::math::any_square_to(up);
    let left = up.cross(ahead);
    let ring = [(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0), (0.6, 0.8), (-0.8, 0.6), (-0.6, -0.8), (0.8, -0.6)];
    let tilts = [(1.0, 0.0), (0.6, 0.8), (0.6, -0.8)];
    let around = tilts
        .into_iter()
        .flat_map(move |(flat, rise)| ring.into_iter().map(move |(x, y)| (ahead * x + left * y) * flat + up * rise));
    [up, -up].into_iter().chain(around)
}
