//! One place decides what ground is, and says why.

use glam::{DVec3, Vec3};

use super::closest::Feature;
use super::point::Contact;
use super::slide::Planes;
use super::surroundings::Surroundings;
use super::sweep::Obstacle;
use crate::explain::Seen;
use crate::limits::Limits;
use crate::math::{flatten, flatten64};
use crate::shape::Form;
use crate::support::{Ground, Support};
use crate::terrain::Edge;

/// The surfaces the feet can move along: one on open ground, more in a hollow.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Footholds {
    normals: [Vec3; 6],
    count: usize,
}

impl Footholds {
    pub fn add(&mut self, normal: Vec3) {
        if self.count < self.normals.len() && !self.normals[..self.count].contains(&normal) {
            self.normals[self.count] = normal;
            self.count += 1;
        }
    }

    /// The one surface that motion along the flat direction `way` must follow so as to enter none: the one that rises
    /// most that way.
    pub fn along(&self, way: Vec3, up: Vec3) -> Option<Vec3> {
        let rise = |n: &Vec3| -way.dot(*n) / n.dot(up);
        self.normals[..self.count].iter().copied().reduce(|best, n| if rise(&n) > rise(&best) { n } else { best })
    }
}

/// A surface lain on rather than rolled off.
pub(crate) const FLAT: f32 = 0.999;

/// Faces whose normals are this near to each other, a cosine, may lie in one plane.
const ONE_PLANE: f32 = 0.999_999;

/// The faces that meet at an edge: the most level walkable face, if any, the least level one, and whether there is a steep one.
#[derive(Default)]
struct Meeting {
    walkable: Option<Vec3>,
    least_level: Option<Vec3>,
    steep: bool,
}

impl Meeting {
    /// True where a touch is on its way from one walkable face to another.
    fn leads_over(&self, touch: Vec3) -> bool {
        let (Some(level), Some(other)) = (self.walkable, self.least_level) else { return false };
        level.cross(touch).dot(touch.cross(other)) > 0.0
    }
}

/// The support that all contacts at one pose add up to.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Decision {
    pub ground: Ground,
    pub footholds: Footholds,
    /// The gap at the contact stood on, metres.
    pub gap: f32,
}

impl Decision {
    pub fn is_firm(&self) -> bool {
        self.ground.support.is_firm()
    }
}

impl Surroundings<'_> {
    /// Finds the support at the present place. Considers touching contacts only; moves nothing.
    pub fn ground(&mut self, limits: &Limits) -> Decision {
        self.ground_within(limits, self.shape.touching())
    }

    /// The same, counting as a touch whatever is closer than `reach`.
    pub fn ground_within(&mut self, limits: &Limits, reach: f32) -> Decision {
        if self.keeps.is_top_view(self.up) {
            return self.plane_itself();
        }
        self.touch(reach);
        let decision = self.judged(limits, reach);
        self.tell(|near| {
            let judge = |c: &Contact| (near.seen(c), near.foothold(c, limits).map(|f| f.0));
            Seen::Judged { contacts: near.contacts.iter().map(judge).collect(), ground: decision.ground }
        });
        decision
    }

    /// The support of the contacts found last.
    fn judged(&self, limits: &Limits, reach: f32) -> Decision {
        let mut decision = Decision::default();
        let mut best: Option<(Support, Contact, Vec3)> = None;
        for i in 0..self.contacts.len() {
            let contact = self.contacts[i];
            let Some((support, normal)) = self.foothold(&contact, limits) else { continue };
            if support.is_firm() {
                decision.footholds.add(normal);
            }
            if best.as_ref().is_none_or(|b| better(support, (&contact, normal), b, self.up, self.shape.touching())) {
                best = Some((support, contact, normal));
            }
        }
        if let Some((support, contact, normal)) = best {
            decision.ground = self.ground_at(&contact, support, normal);
            decision.gap = contact.gap;
            // A box that lies flat on too little is held by nothing else.
            if !support.is_firm()
                && contact.normal.dot(self.up) < FLAT
                && let Some(bottom) = self.held_between(reach, limits)
            {
                decision.ground.support = Support::Wedge;
                decision.ground.normal = bottom;
                decision.footholds.add(bottom);
            }
        }
        decision
    }

    /// Seen from above the plane that is kept to is the ground, everywhere.
    fn plane_itself(&self) -> Decision {
        let (point, normal) = (self.place, self.up);
        let mut footholds = Footholds::default();
        footholds.add(normal);
        let ground = Ground { point, normal, support: Support::Firm, ..Ground::default() };
        Decision { ground, footholds, gap: 0.0 }
    }

    /// A touch as ground.
    pub fn ground_at(&self, contact: &Contact, support: Support, normal: Vec3) -> Ground {
        Ground {
            point: self.patch.origin() + contact.point.as_dvec3(),
            normal,
            surface: contact.surface,
            support,
            body: self.patch.body(contact.body).id,
        }
    }

    /// The support of one contact, and the normal that motion follows there.
    fn foothold(&self, contact: &Contact, limits: &Limits) -> Option<(Support, Vec3)> {
        let up = self.up;
        // Walls, ceilings and what is behind the feet carry nothing.
        if contact.normal.dot(up) < 1e-3 {
            return None;
        }
        if contact.feature == Feature::Face {
            let walkable = limits.walkable(contact.face, up);
            let support = match walkable {
                false => Support::TooSteep,
                true if self.is_over_drop(contact, limits) => Support::Slipping,
                true => Support::Firm,
            };
            return Some((support, contact.face));
        }
        if self.is_seam(contact) {
            return None;
        }
        let Some(normal) = self.edge_normal(contact, limits) else {
            return Some((Support::TooSteep, contact.normal));
        };
        let holds = limits.holds_beyond_rim(self.cores().foot() - contact.point, normal, up, 1.0);
        let on_box = self.shape.form == Form::Box && !self.is_over_drop(contact, limits);
        if holds || on_box {
            return Some((Support::Edge, normal));
        }
        let support = if self.has_step_below(contact, normal, limits) { Support::Edge } else { Support::Slipping };
        Some((support, normal))
    }

    /// True where only the outer part of a box stands on what it touches, further out than tuned. A bottom that lies flat
    /// touches anywhere: it carries if there is footing under where the limit is, on the side that touches. (A round foot touches
    /// faces nowhere but under its middle.)
    fn is_over_drop(&self, contact: &Contact, limits: &Limits) -> bool {
        if self.shape.form == Form::Capsule {
            return false;
        }
        let foot = self.cores().foot();
        let out = flatten(contact.point - foot, self.up);
        let far = out.length();
        if far <= limits.overhang {
            return false;
        }
        let limit = foot + out * (limits.overhang / far);
        let deep = self.shape.rounding() + 2.0 * self.shape.radius + limits.step;
        !self.face_below(limit, deep, |n| limits.walkable(n, self.up))
    }

    /// True where there is walkable ground no more than a step below an edge that is stood on: below the foot's middle,
    /// or between there and the edge. On stairs a foot may rest on a rim wherever it is; over a drop it may not.
    /// (Where the overhang is kept about the face itself, that is no step below.)
    fn has_step_below(&self, contact: &Contact, face: Vec3, limits: &Limits) -> bool {
        let touch = self.shape.touching();
        let under = flatten(self.cores().foot() - contact.point, self.up);
        let falls = if limits.evenly { (under.dot(face) / face.dot(self.up)).max(0.0) } else { 0.0 };
        [1.0, 0.67, 0.33, 0.05].into_iter().any(|part| {
            let from = contact.point + under * part - self.up * (falls * part + 2.0 * touch);
            self.face_below(from, limits.step, |n| limits.walkable(n, self.up))
        })
    }

    /// True where an edge touched lies in a face that is stood on: past a bend the surface left behind still touches
    /// with its rim for a while, but it is the face ahead that carries.
    fn is_seam(&self, contact: &Contact) -> bool {
        self.face_with_rim(contact, |face| face.normal.dot(self.up) > 1e-3).is_some()
    }

    /// The face touched in which an edge touched lies, of those that count.
    pub fn face_with_rim(&self, contact: &Contact, counts: impl Fn(&Contact) -> bool) -> Option<Contact> {
        let flush = 2.0 * self.shape.touching();
        let is_it = |c: &&Contact| c.feature == Feature::Face && counts(c);
        let mut faces = self.contacts.iter().filter(|_| contact.feature != Feature::Face).filter(is_it);
        faces.find(|c| c.face.dot(contact.point - c.point).abs() <= flush).copied()
    }

    /// What is touched of a wall beyond the seam that an edge touched is: a facet in one plane with its own, which has that edge too and is
    /// nearer. Of two that touch at the very seam the first is the wall.
    pub fn beyond_seam(&self, contact: &Contact, counts: impl Fn(&Contact) -> bool) -> Option<Contact> {
        if contact.feature == Feature::Face {
            return None;
        }
        let flush = 2.0 * self.shape.touching();
        let goes_on = |c: &&Contact| {
            c.feature != Feature::Round
                && (c.gap, c.obstacle) < (contact.gap, contact.obstacle)
                && c.face.dot(contact.face) > ONE_PLANE
                && counts(c)
                && self.reaches(c.obstacle, contact.point, flush)
        };
        self.face_with_rim(contact, &counts).or_else(|| self.contacts.iter().find(goes_on).copied())
    }

    /// The normal that motion follows over an edge or a round, or `None` where it is no footing.
    ///
    /// Where walkable faces meet, the touch itself turns from one to the other, also over the side of a floor that a ramp leans against. The
    /// rim of a walkable face that a steep one falls off from is walked as that face, however steep the touch: so a stair is walked level.
    /// With no walkable face, only a touch that is itself walkable carries: the top of a fence, a ridge, a ball.
    fn edge_normal(&self, contact: &Contact, limits: &Limits) -> Option<Vec3> {
        let meeting = self.faces_at(contact, limits);
        let touch = limits.walkable(contact.normal, self.up).then_some(contact.normal);
        let rim = meeting.steep && meeting.walkable.is_some() && !limits.rolls && !meeting.leads_over(contact.normal);
        if rim { meeting.walkable } else { touch.or(meeting.walkable) }
    }

    /// The walkable face whose rim the contact is on, by its normal: a tread, say. `None` where it is no rim.
    pub fn rim_of(&self, contact: &Contact, limits: &Limits) -> Option<Vec3> {
        if contact.feature == Feature::Face { None } else { self.faces_at(contact, limits).walkable }
    }

    /// The faces that meet where `contact` touches an edge.
    fn faces_at(&self, contact: &Contact, limits: &Limits) -> Meeting {
        let same = 2.0 * self.shape.touching();
        let mut meeting = Meeting::default();
        for other in self.contacts.iter().filter(|c| c.feature != Feature::Round) {
            let meets = (other.point - contact.point).abs().max_element() <= same;
            if !meets && !self.reaches(other.obstacle, contact.point, same) {
                continue;
            }
            if !limits.walkable(other.face, self.up) {
                meeting.steep = true;
                continue;
            }
            if meeting.least_level.is_none_or(|least| other.face.dot(self.up) < least.dot(self.up)) {
                meeting.least_level = Some(other.face);
            }
            if meeting.walkable.is_none_or(|level| other.face.dot(self.up) > level.dot(self.up)) {
                meeting.walkable = Some(other.face);
            }
        }
        meeting
    }

    /// The walkable faces that meet at a place in the world.
    pub fn walked_at(&self, place: DVec3, limits: &Limits) -> impl Iterator<Item = Vec3> {
        let (point, near) = ((place - self.patch.origin()).as_vec3(), 2.0 * self.shape.touching());
        let up = self.up;
        let meets = move |index: &usize| self.reaches(Obstacle::Facet(*index), point, near);
        let faces = (0..self.patch.facets.len()).filter(meets).map(|index| self.patch.facets[index].normal);
        let limits = *limits;
        faces.map(move |normal| normal * normal.dot(up).signum()).filter(move |normal| limits.walkable(*normal, up))
    }

    /// True where a facet has a point in it, or on its rim: beside a corner what touches of it may be elsewhere.
    fn reaches(&self, obstacle: Obstacle, point: Vec3, near: f32) -> bool {
        let Obstacle::Facet(index) = obstacle else { return false };
        let facet = &self.patch.facets[index];
        let within = |edge: &Edge| edge.beyond(point) <= near * (edge.to - edge.from).length();
        facet.height_of(point).abs() <= near && facet.edges().iter().all(within)
    }

    /// Where surfaces too steep one by one leave no way down together, or only one along a crease that could be walked:
    /// the normal of what they amount to, level across the crease.
    fn held_between(&self, reach: f32, limits: &Limits) -> Option<Vec3> {
        let mut planes = Planes::default();
        for contact in self.contacts.iter().filter(|c| c.gap <= reach) {
            // Facets that share an edge touch with all but the same normal: that is one side, not two.
            planes.add_unless_like(contact.normal.as_dvec3(), 0.0, 0.015);
        }
        let up = self.up.as_dvec3();
        let way = planes.admissible(-up);
        let steepness = way.length();
        if steepness < 1e-2 {
            return Some(self.up);
        }
        let along = way / steepness;
        // A leaning contact opposite a steep face wedges the character too, even an edge that it would slip off.
        let sides = || planes.normals().iter().filter(|n| n.dot(along).abs() < 1e-3);
        let leans = |n: &DVec3, other: &DVec3| flatten64(*n, up).dot(flatten64(*other, up)) < 0.0;
        let steep = |n: &DVec3| !limits.walkable(n.as_vec3(), self.up);
        let held = sides().any(|n| steep(n) && sides().any(|other| other != n && (steep(other) || leans(n, other))));
        if !held {
            return None;
        }
        let bottom = up - along * up.dot(along);
        let bottom = (bottom / bottom.length()).as_vec3();
        limits.walkable(bottom, self.up).then_some(bottom)
    }
}

/// Firm support comes before slipping, and slipping before too steep. Among firm contacts a touching one comes before a near one, a
/// face before the rim of another surface beside it, and of two faces or two rims the more level one.
fn better(
    support: Support,
    (contact, normal): (&Contact, Vec3),
    than: &(Support, Contact, Vec3),
    up: Vec3,
    touching: f32,
) -> bool {
    let rank = |s: Support| match s {
        Support::Firm | Support::Edge | Support::Wedge => 2,
        Support::Slipping => 1,
        Support::TooSteep | Support::None | Support::Held | Support::Water => 0,
    };
    let (mine, its) = (rank(support), rank(than.0));
    if mine != its {
        return mine > its;
    }
    let touches = [contact, &than.1].map(|c| mine < 2 || c.gap <= touching);
    if touches[0] != touches[1] {
        return touches[0];
    }
    let is_face = [support, than.0].map(|s| mine == 2 && s == Support::Firm);
    if is_face[0] != is_face[1] {
        return is_face[0];
    }
    normal.dot(up) - than.2.dot(up) > 1e-6
}
