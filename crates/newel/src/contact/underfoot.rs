//! A foot going over a surface: how far the surface goes on flatly, and whether it is still the same further on.

use glam::{DVec3, Vec3};

use super::ground::{Decision, Footholds};
use super::surroundings::Surroundings;
use crate::limits::Limits;
use crate::shape::Cores;
use crate::support::{Ground, Support};
use crate::terrain::{Facet, RoundedBox};

/// A neighbour whose normal is within this cosine continues a surface: a bend of less than a degree costs a walk a
/// seven-thousandth of a piece of way at most.
const CONTINUES: f32 = 0.99985;
/// A box whose bottom is square to a normal to within this, a cosine, lies on it.
const FLAT: f32 = 1e-4;

/// How far a foot stays on what it is on.
#[derive(Clone, Copy, Debug)]
pub(crate) struct SupportEnd {
    /// The part of the way, 0 to 1.
    pub part: f32,
    /// The facet it is over then.
    pub over: Option<usize>,
    /// True where the surface goes on flatly, and is of another kind.
    pub border: bool,
}

impl Surroundings<'_> {
    /// The part of `way`, 0 to 1, over which the foot that touches the surface with this normal stays on it, or on
    /// what continues it flatly on the same body and is walked on alike: where it ends is where the surface bends away underfoot, or
    /// another carries it.
    pub fn support_end(&self, normal: Vec3, (body, surface): (u64, u16), way: Vec3) -> SupportEnd {
        let body = self.body_index(body);
        let is_alike = |other: u16| other == surface || self.footing(other) == self.footing(surface);
        let foot = self.cores().lowest_along(normal) - normal * self.shape.rounding();
        let length = way.length();
        let seam = 2.0 * self.shape.touching() / length;
        // What continues the surface bends from it by less than this, all the way.
        let reach = 0.02 * length + self.shape.touching();
        let within = RoundedBox::new(foot.min(foot + way), foot.max(foot + way), reach);
        let (mut covered, mut last, mut height) = (0.0, None, 0.0);
        loop {
            let (before, mut border) = (covered, false);
            for (index, facet) in self.patch.facets_near(within) {
                let flat = facet.normal.dot(normal).abs() > CONTINUES;
                if flat && facet.body == body {
                    let (from, to) = span_over(facet, foot, way);
                    let end = height_over(facet, normal, foot + way * covered);
                    if from > covered + seam || to <= covered || (end - height).abs() > self.shape.touching() {
                        continue;
                    }
                    if is_alike(facet.surface) {
                        (covered, last) = (to, Some(index));
                        height = height_over(facet, normal, foot + way * to);
                    } else {
                        border = true;
                    }
                }
            }
            if covered >= 1.0 || covered == before {
                // Not over it at all: it is followed as one of several, and where it ends tells nothing.
                let (part, over) = if covered > 0.0 { (covered.min(1.0), last) } else { (1.0, None) };
                return SupportEnd { part, over, border };
            }
        }
    }

    /// The part of `way`, 0 to 1, over which a box that lies flat on an edge goes on doing so: until its hindmost corner is over it.
    pub fn flat_until(&self, edge: DVec3, normal: Vec3, way: Vec3) -> f32 {
        let Cores::Four([bottom, ..]) = self.cores() else { return 1.0 };
        let along = bottom.high - bottom.low;
        let is_flat = along.dot(normal).abs() <= FLAT * along.length();
        let end = if along.dot(way) > 0.0 { bottom.low } else { bottom.high };
        let edge = (edge - self.patch.origin()).as_vec3();
        let left = (edge - end).dot(way) / way.length_squared();
        if is_flat && left > 0.0 { left.min(1.0) } else { 1.0 }
    }

    /// The same ground as before, further on: where the foot is over the inside of this facet and exactly on it. Asks
    /// nothing of other facets, so only good after a free move along a surface that this facet continues.
    pub fn still_on(&self, index: usize, limits: &Limits) -> Option<Decision> {
        let facet = self.patch.facets.get(index)?;
        // Which part of a box is over the facet is for the full decision to say, and so is what a plane makes of it.
        if self.keeps.is_plane() {
            return None;
        }
        let low = self.cores().foot();
        let height = facet.height_of(low);
        let normal = facet.normal * height.signum();
        let gap = height.abs() - self.shape.radius;
        let exact = gap.abs() <= 2.0 * self.shape.tolerance() && limits.walkable(normal, self.up);
        if !exact || facet.edges().iter().any(|edge| edge.beyond(low) > 0.0) {
            return None;
        }
        let point = self.patch.origin() + (low - normal * height.abs()).as_dvec3();
        let body = self.patch.body(facet.body).id;
        let ground = Ground { point, normal, surface: facet.surface, support: Support::Firm, body };
        let mut footholds = Footholds::default();
        footholds.add(normal);
        Some(Decision { ground, footholds, gap })
    }
}

/// How far a point is above the plane of a facet, metres, on the side of a normal.
fn height_over(facet: &Facet, normal: Vec3, point: Vec3) -> f32 {
    facet.height_of(point) * facet.normal.dot(normal).signum()
}

/// The part of a way, from and to between 0 and 1, that lies over a facet; empty where `from` is over `to`.
fn span_over(facet: &Facet, start: Vec3, way: Vec3) -> (f32, f32) {
    let (mut from, mut to) = (0.0f32, 1.0f32);
    let corners = [facet.a, facet.b, facet.c, facet.a];
    for edge in corners.windows(2) {
        let inward = facet.normal.cross(edge[1] - edge[0]);
        let (now, change) = (inward.dot(start - edge[0]), inward.dot(way));
        if change > 0.0 {
            from = from.max(-now / change);
        } else if change < 0.0 {
            to = to.min(-now / change);
        } else if now < 0.0 {
            return (1.0, 0.0);
        }
    }
    (from, to)
}
