//! The world as one of a crowd meets it: everything there is, and what keeps it off the others.

use glam::{DVec3, Vec3};

use super::pair::{Gap, Seen};
use super::snapshot::{Near, SPARE, Snapshot};
use super::stack::Stacks;
use crate::math::any_square_to;
use crate::terrain::{Body, Facet, Footing, Hold, Patch, RayHit, Round, Sensor, Terrain, Timetable, When};

pub(super) struct Among<'a> {
    pub terrain: &'a dyn Terrain,
    pub snapshot: &'a Snapshot,
    /// Vertical order of characters.
    pub stacks: &'a Stacks,
    pub me: usize,
    /// The tick's length, seconds.
    pub dt: f64,
    /// True to leave out those who stand on it and on whom it stands.
    pub alone: bool,
}

impl Among<'_> {
    fn gather_others(&self, patch: &mut Patch) {
        let (me, stacks) = (self.snapshot.seen(self.me), self.stacks);
        for &Near { other, gap } in self.snapshot.near(self.me) {
            let passes = stacks.is_carried(other, self.me) || self.alone && stacks.are_together(self.me, other);
            if passes || !self.snapshot.are_solid(self.me, other) {
                continue;
            }
            if stacks.stands_on(self.me, other) {
                self.add_lower(other, patch);
            }
            if !stacks.is_carried(self.me, other) {
                self.add_wall(me, (other, gap), patch);
            }
        }
    }

    /// Whom this one stands on has moved already, and is met as it was and as it moved.
    fn add_lower(&self, lower: usize, patch: &mut Patch) {
        let Some((body, it)) = self.stacks.met(self.snapshot, (self.me, lower), self.dt) else { return };
        let (surface, body) = (self.snapshot.surface, patch.add_body(body));
        let origin = patch.origin();
        if let Some([along, across, _]) = it.sides {
            let corner = |a: f64, b: f64| it.middle() + along * a + across * b - origin;
            let around = [corner(-1.0, -1.0), corner(1.0, -1.0), corner(1.0, 1.0), corner(-1.0, 1.0)];
            for n in 0..4 {
                self.add_side(body, n, [around[n], around[(n + 1) % 4]], &it, patch);
            }
        } else {
            let [a, b] = [it.low, it.high].map(|end| (end - origin).as_vec3());
            patch.add_round(Round { a, b, radius: it.radius as f32, surface, body, id: 0 });
        }
    }

    /// A side of a box: from one corner to another, and as deep as that is.
    fn add_side(&self, body: u16, number: usize, [from, to]: [DVec3; 2], it: &Seen, patch: &mut Patch) {
        let deep = it.sides.map_or(DVec3::ZERO, |[.., deep]| deep);
        let corners = [from - deep, from + deep, to + deep, to - deep];
        self.add_square(body, 2 * number as u32, corners, patch);
    }

    /// Between two that cannot be in one place stands a wall, that leaves to each its share of the gap: as wide as the other can get in the
    /// tick, and what is on the other side of it is the other's. So they cannot meet, whoever moves first. A wall out of its reach is left
    /// out.
    fn add_wall(&self, me: &Seen, (other, gap): (usize, Gap), patch: &mut Patch) {
        let it = self.snapshot.seen(other);
        let mine = me.share(it, &gap) * gap.wide;
        if mine > me.reach + SPARE {
            return;
        }
        let wall = gap.point + gap.away * if gap.wide > 0.0 { gap.wide - mine } else { 0.5 * gap.wide };
        let (id, feet) = self.stacks.wall_of(self.snapshot, (self.me, other));
        let body = patch.add_body(Body::still(id, feet));
        // A triangle about a circle of that radius.
        let along = any_square_to(gap.away.as_vec3()).as_dvec3() * (me.whole() + it.whole());
        let across = gap.away.cross(along) * 3.0f64.sqrt();
        let corners = [along * -2.0, along + across, along - across].map(|out| (wall + out - patch.origin()).as_vec3());
        self.add_triangle(body, 0, corners, patch);
    }

    fn add_square(&self, body: u16, id: u32, corners: [DVec3; 4], patch: &mut Patch) {
        let [a, b, c, d] = corners.map(|corner| corner.as_vec3());
        self.add_triangle(body, id, [a, b, c], patch);
        self.add_triangle(body, id + 1, [a, c, d], patch);
    }

    fn add_triangle(&self, body: u16, id: u32, [a, b, c]: [Vec3; 3], patch: &mut Patch) {
        if let Some(facet) = Facet::new(a, b, c) {
            patch.add_facet(Facet { body, id, surface: self.snapshot.surface, ..facet });
        }
    }
}

impl Among<'_> {
    /// True where nobody is near who is solid to it.
    fn is_alone(&self) -> bool {
        self.snapshot.near(self.me).iter().all(|near| !self.snapshot.are_solid(self.me, near.other))
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

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        self.terrain.stamp(when, within).filter(|_| self.is_alone())
    }

    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        self.terrain.timetable(when, within).filter(|_| self.is_alone())
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
