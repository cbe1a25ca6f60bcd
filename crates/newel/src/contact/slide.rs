//! Sliding is a projection, not a sequence: the nearest admissible velocity against all planes touched at once.

use glam::DVec3;

/// Normals closer than this are one plane: single precision tells no more apart.
const SAME_PLANE: f64 = 1e-5;
/// A velocity that enters a plane by less than this part of its length grazes it: two facets that share the edge
/// touched give normals that differ by as much, and must not make a crease that catches.
const GRAZING: f64 = 1e-5;

/// The velocities nearest to a wish that enter none of a few planes.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Planes {
    normals: [DVec3; Planes::MOST],
    count: usize,
}

impl Planes {
    /// More are never needed: three planes already stop everything, and touched planes are few.
    pub const MOST: usize = 12;

    /// Adds the plane with this unit normal, pointing to the free side; one that is there already is not added again.
    pub fn add(&mut self, normal: DVec3) {
        self.add_unless_like(normal, SAME_PLANE);
    }

    /// The same, but normals closer than `apart` count as one.
    pub fn add_unless_like(&mut self, normal: DVec3, apart: f64) {
        let known = self.normals[..self.count].iter().any(|n| (*n - normal).length_squared() < apart * apart);
        if !known && self.count < Planes::MOST {
            self.normals[self.count] = normal;
            self.count += 1;
        }
    }

    /// The planes that a motion with `velocity` is not leaving: only those push back on what drives it.
    pub fn not_left_by(&self, velocity: DVec3) -> Planes {
        let leaving = 1e-6 * velocity.length();
        let mut kept = Planes::default();
        self.normals().iter().filter(|n| velocity.dot(**n) <= leaving).for_each(|n| kept.add(*n));
        kept
    }

    /// The normals, in the order they were added.
    pub fn normals(&self) -> &[DVec3] {
        &self.normals[..self.count]
    }

    /// The velocity nearest to `wish` that enters no plane: the projection onto the cone the planes leave open.
    ///
    /// At most three planes are active in a projection in space, so the best of all admissible projections onto
    /// none, one or two of them is exact; with three the only point left is rest.
    pub fn admissible(&self, wish: DVec3) -> DVec3 {
        let limit = -GRAZING * wish.length();
        let normals = self.normals();
        let allowed = |v: DVec3| normals.iter().all(|n| v.dot(*n) >= limit);
        if allowed(wish) {
            return wish;
        }
        let mut best = DVec3::ZERO;
        let mut nearest = wish.length_squared();
        let mut offer = |v: DVec3| {
            let off = (v - wish).length_squared();
            if off < nearest && allowed(v) {
                (best, nearest) = (v, off);
            }
        };
        for (i, n) in normals.iter().enumerate() {
            let closing = wish.dot(*n);
            if closing >= limit {
                continue;
            }
            offer(wish - *n * closing);
            for m in normals[..i].iter().chain(&normals[i + 1..]) {
                let crease = n.cross(*m);
                let square = crease.length_squared();
                if square > 1e-18 {
                    offer(crease * (wish.dot(crease) / square));
                }
            }
        }
        best
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn unit() -> impl Strategy<Value = DVec3> {
        (-1.0f64..1.0, -1.0f64..1.0, -1.0f64..1.0)
            .prop_map(|(x, y, z)| DVec3::new(x, y, z))
            .prop_filter("has a direction", |v| v.length() > 0.1)
            .prop_map(|v| v / v.length())
    }

    /// Dykstra's alternating projections (1983): slow, general, and written without a thought for the answer above.
    fn dykstra(wish: DVec3, normals: &[DVec3]) -> DVec3 {
        let mut v = wish;
        let mut residue = vec![DVec3::ZERO; normals.len()];
        for _ in 0..20_000 {
            for (n, r) in normals.iter().zip(&mut residue) {
                let from = v + *r;
                let to = from - *n * from.dot(*n).min(0.0);
                *r = from - to;
                v = to;
            }
        }
        v
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(300))]
        #[test]
        fn it_is_the_nearest_admissible_velocity(wish in unit(), normals in proptest::collection::vec(unit(), 1..5)) {
            let mut planes = Planes::default();
            normals.iter().for_each(|n| planes.add(*n));
            let found = planes.admissible(wish);
            for n in &normals {
                prop_assert!(found.dot(*n) >= -2.0 * GRAZING);
            }
            let slow = dykstra(wish, &normals);
            // Where the planes all but close a ring it has not converged after any number of rounds.
            prop_assume!(normals.iter().all(|n| slow.dot(*n) >= -1e-6));
            prop_assert!((found - slow).length() < 1e-3, "{found} {slow}");
        }
    }

    #[test]
    fn corners_hold_still_and_leaving_is_free() {
        let mut planes = Planes::default();
        planes.add(DVec3::X);
        planes.add(DVec3::Z);
        assert_eq!(planes.admissible(DVec3::new(-1.0, 0.0, -2.0)), DVec3::ZERO);
        assert_eq!(planes.admissible(DVec3::new(1.0, 0.0, 2.0)), DVec3::new(1.0, 0.0, 2.0));
        assert_eq!(planes.admissible(DVec3::new(-1.0, 5.0, -2.0)), DVec3::new(0.0, 5.0, 0.0));
    }
}
