//! The world as one of a crowd meets it: everything there is, and what keeps it off the others.

use glam::{DVec3, Vec3};

use super::pair::Seen;
use super::snapshot::Snapshot;
use crate::math::any_square_to;
use crate::terrain::{Body, Facet, Footing, Hold, Patch, RayHit, Sensor, Terrain, When};

pub(super) struct Among<'a> {
    pub terrain: &'a dyn Terrain,
    pub snapshot: &'a Snapshot,
    pub me: usize,
}

impl Among<'_> {
    fn gather_others(&self, patch: &mut Patch) {
        let me = self.snapshot.seen(self.me);
        self.snapshot.each_near(self.me, |other, it| {
            if self.snapshot.are_solid(self.me, other) {
                self.add_wall(me, other, it, patch);
            }
        });
    }

    /// Between two that cannot be in one place stands a wall, that leaves to each its share of the gap: as wide as the other can get in the
    /// tick, and what is on the other side of it is the other's. So they cannot meet, whoever moves first.
    fn add_wall(&self, me: &Seen, other: usize, it: &Seen, patch: &mut Patch) {
        let gap = self.snapshot.gap(self.me, other);
        let share = me.share(it, &gap);
        let wall = gap.point + gap.away * if gap.wide > 0.0 { (1.0 - share) * gap.wide } else { 0.5 * gap.wide };
        let normal = gap.away;
        let body = patch.add_body(Body::still(self.snapshot.id(other), DVec3::ZERO));
        let half = me.radius + it.radius + it.reach + me.reach + 0.5 * (it.high - it.low).length();
        let along = any_square_to(normal.as_vec3()).as_dvec3() * half;
        let across = normal.cross(along);
        let corner = |a: f64, b: f64| (wall + along * a + across * b - patch.origin()).as_vec3();
        let [a, b, c, d] = [corner(-1.0, -1.0), corner(1.0, -1.0), corner(1.0, 1.0), corner(-1.0, 1.0)];
        for (number, [p, q, r]) in [[a, b, c], [a, c, d]].into_iter().enumerate() {
            if let Some(facet) = Facet::new(p, q, r) {
                patch.add_facet(Facet { body, id: number as u32, surface: self.snapshot.surface, ..facet });
            }
        }
    }
}

impl Terrain for Among<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.terrain.gather(when, patch);
        self.gather_others(patch);
    }

    fn sensors(&self, when: When, within: (DVec3, DVec3), found: &mut Vec<Sensor>) {
        self.terrain.sensors(when, within, found);
    }

    fn stamp(&self, when: When) -> Option<u64> {
        let mut alone = true;
        self.snapshot.each_near(self.me, |other, _| alone &= !self.snapshot.are_solid(self.me, other));
        self.terrain.stamp(when).filter(|_| alone)
    }

    fn footing(&self, surface: u16) -> Footing {
        self.terrain.footing(surface)
    }

    fn hold(&self, surface: u16) -> Hold {
        self.terrain.hold(surface)
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        self.terrain.wave(zone, place, when, t)
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.terrain.cast(when, from, along, length)
    }
}
