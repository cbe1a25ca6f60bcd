//! Sliding is a projection, not a sequence: the nearest admissible velocity against all planes touched at once.

use glam::DVec3;

/// Normals closer than this are one plane: single precision tells no more apart.
const SAME_PLANE: f64 = 1e-5;
/// A velocity that enters a plane by less than this part of its length grazes it: two facets that share the edge
/// touched give normals that differ by as much, and must not make a crease that catches.
const GRAZING: f64 = 1e-5;

/// Nothing is squeezed out faster than this many times the speed of what presses.
const MOST_SQUEEZE: f64 = 2.0;

/// The velocities nearest to a wish that enter none of a few planes, each of which may be moving.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Planes {
    normals: [DVec3; Planes::MOST],
    /// How fast each plane comes along its normal, m/s; negative where it draws back.
    speeds: [f64; Planes::MOST],
    count: usize,
}

impl Planes {
    /// More are never needed: three planes already stop everything, and touched planes are few.
    pub const MOST: usize = 12;

    /// Adds the plane with this unit normal, pointing to the free side; one that is there already is not added again.
    pub fn add(&mut self, normal: DVec3) {
        self.add_moving(normal, 0.0);
    }

    /// The same for a plane that moves along its normal at `speed`.
    pub fn add_moving(&mut self, normal: DVec3, speed: f64) {
        self.add_unless_like(normal, speed, SAME_PLANE);
    }

    /// The same, but normals closer than `apart` count as one; it moves as the faster does.
    pub fn add_unless_like(&mut self, normal: DVec3, speed: f64, apart: f64) {
        let known = self.normals().iter().position(|n| (*n - normal).length_squared() < apart * apart);
        if let Some(known) = known {
            self.speeds[known] = self.speeds[known].max(speed);
        } else if self.count < Planes::MOST {
            (self.normals[self.count], self.speeds[self.count]) = (normal, speed);
            self.count += 1;
        }
    }

    /// The planes that a motion with `velocity` is not leaving, as they bound its rate of change: only those push back
    /// on what drives it.
    pub fn not_left_by(&self, velocity: DVec3) -> Planes {
        let leaving = 1e-6 * velocity.length();
        let mut kept = Planes::default();
        self.iter().filter(|(n, speed)| velocity.dot(*n) <= speed + leaving).for_each(|(n, _)| kept.add(n));
        kept
    }

    /// The normals, in the order they were added.
    pub fn normals(&self) -> &[DVec3] {
        &self.normals[..self.count]
    }

    /// Normals and speeds, in the order they were added.
    pub fn iter(&self) -> impl Iterator<Item = (DVec3, f64)> + '_ {
        self.normals().iter().copied().zip(self.speeds.iter().copied())
    }

    /// The velocity nearest to `wish` that enters no plane, or rest where the planes leave none, or only one that shoots out from between
    /// them like a pip.
    pub fn admissible(&self, wish: DVec3) -> DVec3 {
        let most = wish.length() + 2.0 * MOST_SQUEEZE * self.fastest();
        self.nearest(wish).filter(|v| v.length() <= most).unwrap_or(DVec3::ZERO)
    }

    /// True where the planes close in from all sides: whatever the velocity, one of them is entered, or only one that
    /// shoots out from between them like a pip escapes.
    pub fn close_in(&self) -> bool {
        let fastest = self.fastest();
        let squeezed = |v: DVec3| v.length() > MOST_SQUEEZE * fastest;
        self.speeds[..self.count].iter().any(|s| *s > 0.0) && self.nearest(DVec3::ZERO).is_none_or(squeezed)
    }

    fn fastest(&self) -> f64 {
        self.speeds[..self.count].iter().fold(0.0f64, |f, s| f.max(s.abs()))
    }

    /// The projection of `wish` onto what the planes leave open.
    ///
    /// At most three planes are active in a projection in space, so the best of all admissible projections onto none,
    /// one, two or three of them is exact.
    fn nearest(&self, wish: DVec3) -> Option<DVec3> {
        let fastest = self.fastest();
        let slack = GRAZING * wish.length().max(fastest);
        let allowed = |v: DVec3| self.iter().all(|(n, speed)| v.dot(n) >= speed - slack);
        if allowed(wish) {
            return Some(wish);
        }
        let mut best: Option<(f64, DVec3)> = None;
        let mut offer = |v: DVec3| {
            let off = (v - wish).length_squared();
            if best.is_none_or(|b| off < b.0) && allowed(v) {
                best = Some((off, v));
            }
        };
        for (i, (n, speed)) in self.iter().enumerate() {
            let short = speed - wish.dot(n);
            if short <= slack {
                continue;
            }
            offer(wish + n * short);
            for (k, (m, other)) in self.iter().enumerate().filter(|(k, _)| *k != i) {
                let crease = n.cross(m);
                let square = crease.length_squared();
                if square <= 1e-18 {
                    continue;
                }
                let on_both = (m.cross(crease) * speed + crease.cross(n) * other) / square;
                offer(on_both + crease * (wish.dot(crease) / square));
                // Where nothing moves, three planes leave only rest.
                for (l, third) in self.iter().skip(k + 1).filter(|_| fastest > 0.0) {
                    let size = crease.dot(l);
                    if size.abs() > 1e-9 {
                        offer((m.cross(l) * speed + l.cross(n) * other + crease * third) / size);
                    }
                }
            }
        }
        best.map(|b| b.1).or((fastest == 0.0).then_some(DVec3::ZERO))
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
    fn planes_that_move_push_and_close_in() {
        let mut planes = Planes::default();
        planes.add_moving(DVec3::X, 2.0);
        assert_eq!(planes.admissible(DVec3::new(0.0, 1.0, 0.0)), DVec3::new(2.0, 1.0, 0.0));
        assert_eq!(planes.admissible(DVec3::X * 3.0), DVec3::X * 3.0);
        planes.add_moving(DVec3::Z, -1.0);
        assert_eq!(planes.admissible(DVec3::Z * -4.0), DVec3::new(2.0, 0.0, -1.0));
        planes.add(DVec3::NEG_Y);
        assert_eq!(planes.admissible(DVec3::new(0.0, 9.0, -4.0)), DVec3::new(2.0, 0.0, -1.0));
        assert!(!planes.close_in());
        planes.add_moving(DVec3::NEG_X, -1.9);
        assert!(planes.close_in());
        assert_eq!(planes.admissible(DVec3::X), DVec3::ZERO);
    }

    #[test]
    fn between_planes_that_all_but_meet_nothing_is_shot_out() {
        let mut planes = Planes::default();
        planes.add_moving(DVec3::X, 2.0);
        planes.add_moving(DVec3::new(-1.0, 1e-6, 0.0).normalize(), -1.9);
        assert!(planes.close_in());
        assert_eq!(planes.admissible(DVec3::Z), DVec3::ZERO);
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
