//! Two characters as they stood when the tick began: how far apart, and how much of that each may use.

use glam::DVec3;

/// One of a crowd as the others see it in a tick.
#[derive(Clone, Copy, Debug)]
pub(super) struct Seen {
    /// The ends of its core, metres in the world.
    pub low: DVec3,
    pub high: DVec3,
    /// About its core; of a box 0.
    pub radius: f64,
    /// Of a box: from its middle to a side, in the plane that it keeps to and last out of it; then the core is the middle of it.
    pub sides: Option<[DVec3; 3]>,
    pub up: DVec3,
    pub velocity: DVec3,
    /// The furthest that it can get in the tick, metres.
    pub reach: f64,
}

/// The gap between two.
#[derive(Clone, Copy, Debug)]
pub(super) struct Gap {
    /// Unit, from the other toward this one.
    pub away: DVec3,
    /// The other's nearest point.
    pub point: DVec3,
    /// How wide it is, metres; negative where they overlap.
    pub wide: f64,
}

/// Cosine from which on a character is on the head of another.
const OVER: f64 = 0.3;
/// Ups that agree by this, a cosine, are one.
const ALIKE: f64 = 0.999;

/// Flat ones that touch are as far in each other as this at the most, metres.
const TOUCHING: f64 = 0.01;

impl Gap {
    /// True where this one is over the other.
    pub fn is_over(&self, up: DVec3) -> bool {
        self.away.dot(up) > OVER
    }
}

impl Seen {
    pub fn middle(&self) -> DVec3 {
        0.5 * (self.low + self.high)
    }

    /// A ball about it.
    pub fn ball(&self) -> f64 {
        let sides = self.sides.map_or(DVec3::ZERO, |sides| sides.into_iter().sum());
        0.5 * (self.high - self.low).length() + self.radius + sides.length()
    }

    /// A ball about all of it, wherever it gets in the tick.
    pub fn whole(&self) -> f64 {
        self.ball() + self.reach
    }

    /// How far it reaches along a way, metres from its middle.
    pub fn half_along(&self, way: DVec3) -> f64 {
        let sides = self.sides.map_or(0.0, |sides| sides.iter().map(|side| side.dot(way).abs()).sum());
        0.5 * (self.high - self.low).dot(way).abs() + self.radius + sides
    }

    /// True where what is straight of this one is higher than all that is of the other: no more can be told without the gap.
    pub fn may_be_over(&self, other: &Seen) -> bool {
        let apart = (self.middle() - other.middle()).dot(self.up);
        let straight = self.half_along(self.up) + other.half_along(self.up) - self.radius - other.radius;
        self.up.dot(other.up) > ALIKE && apart > straight - TOUCHING
    }

    /// The gap to another; `aside` is the way out where they stand in one place.
    pub fn gap(&self, other: &Seen, aside: DVec3) -> Gap {
        if let Some(sides) = self.sides.or(other.sides) {
            return self.gap_of_boxes(other, sides);
        }
        let (mine, its) = nearest(self, other);
        let way = mine - its;
        let length = way.length();
        let away = if length > 1e-6 { way / length } else { aside };
        Gap { away, point: its + away * other.radius, wide: length - self.radius - other.radius }
    }

    /// The same where one is a box: along its sides each is as wide as it is, and rounded as it is. The sides of both are level and upright,
    /// or all of them level.
    fn gap_of_boxes(&self, other: &Seen, sides: [DVec3; 3]) -> Gap {
        let (apart, rounded) = (self.middle() - other.middle(), self.radius + other.radius);
        let between = sides.map(|side| {
            let side = side.normalize_or_zero();
            let toward = if apart.dot(side) < 0.0 { -side } else { side };
            (toward, apart.dot(toward) - self.half_along(side) - other.half_along(side) + rounded)
        });
        let way: DVec3 = between.iter().map(|(toward, apart)| *toward * apart.max(0.0)).sum();
        let nearest = between.into_iter().reduce(|a, b| if b.1 > a.1 { b } else { a });
        let (away, wide) = match (way.try_normalize(), nearest) {
            (Some(away), _) => (away, way.length()),
            (None, Some((toward, deep))) => (toward, deep),
            (None, None) => (self.up, 0.0),
        };
        Gap { away, point: other.middle() + away * other.half_along(away), wide: wide - rounded }
    }

    /// The part of the gap that this one may use: as its closing speed is to that of both; half where neither closes.
    pub fn share(&self, other: &Seen, gap: &Gap) -> f64 {
        let (mine, its) = (-self.velocity.dot(gap.away), other.velocity.dot(gap.away));
        let (mine, its) = (mine.max(0.0), its.max(0.0));
        if mine + its > 0.0 { mine / (mine + its) } else { 0.5 }
    }
}

/// The points of two segments that are nearest to each other (Ericson, *Real-Time Collision Detection*, 2005, 5.1.9); of parallel ones
/// those in the middle of where they are side by side.
fn nearest(a: &Seen, b: &Seen) -> (DVec3, DVec3) {
    let (along_a, along_b, off) = (a.high - a.low, b.high - b.low, a.low - b.low);
    let (aa, bb, ab) = (along_a.length_squared(), along_b.length_squared(), along_a.dot(along_b));
    let (fa, fb) = (along_a.dot(off), along_b.dot(off));
    let part = |over: f64, under: f64| if under > 0.0 { (over / under).clamp(0.0, 1.0) } else { 0.0 };
    let under = aa * bb - ab * ab;
    let mut s = if under > 1e-9 * aa * bb {
        part(ab * fb - fa * bb, under)
    } else {
        // Where both ends of the other are along this one, and the middle of what is on it.
        let ends = [part(-fa, aa), part(ab - fa, aa)];
        0.5 * (ends[0] + ends[1])
    };
    let t = part(ab * s + fb, bb);
    s = part(ab * t - fa, aa);
    (a.low + along_a * s, b.low + along_b * t)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn upright_ones_are_as_far_apart_as_they_look() {
        let at = |place: DVec3| Seen {
            low: place + DVec3::Y * 0.3,
            high: place + DVec3::Y * 1.5,
            radius: 0.3,
            sides: None,
            up: DVec3::Y,
            velocity: DVec3::ZERO,
            reach: 0.0,
        };
        let gap = at(DVec3::ZERO).gap(&at(DVec3::new(2.0, 0.4, 0.0)), DVec3::Z);
        assert!((gap.wide - 1.4).abs() < 1e-12 && (gap.away + DVec3::X).length() < 1e-12, "{gap:?}");
        let above = at(DVec3::Y * 1.8).gap(&at(DVec3::ZERO), DVec3::Z);
        assert!(above.wide.abs() < 1e-12 && above.away == DVec3::Y && above.point == DVec3::Y * 1.8, "{above:?}");
        assert_eq!(at(DVec3::ZERO).gap(&at(DVec3::ZERO), DVec3::Z).away, DVec3::Z);
    }
}
