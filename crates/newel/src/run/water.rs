//! The water it is in, or over: where the surface is, how that moves, and when a way leads through it.

use glam::{DVec3, Vec3};

use super::{GRID, ROUNDING, Run};
use crate::contact::arcs::Path;
use crate::outcome::Wet;
use crate::phase::Mode;
use crate::terrain::{Effect, Swell, Water, Waves, Zone};

/// A depth within this distance, metres, is reached.
pub(crate) const AT: f64 = 1e-6;

/// Water whose top is lower over the feet than its middle is deep may be stood in; what only hangs over it is not.
const MIDDLE: f64 = 0.5;

/// Waves that differ by this much, metres, are those of another water.
const ANOTHER: f64 = 0.02;

/// Half of the way over which the slope of a wave is looked at, metres.
const SLOPE: f64 = 0.1;

/// The surface of water, seen from the feet.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Waterline {
    /// How high it is over the feet along up, metres; negative under them.
    pub depth: f64,
    /// Unit vector out of the still water.
    pub out: DVec3,
    /// How it moves where it is, m/s: as the body whose water it is, and along `out` as it waves.
    pub moves: DVec3,
    /// The patch's index of the zone whose surface it is.
    zone: usize,
}

impl Run<'_> {
    /// True where there is nothing about that could be water: most of the time, and quickly told.
    pub fn is_far_from_water(&self) -> bool {
        self.near.patch.zones().is_empty()
    }

    /// The water that it is in, or over; `None` without any in the patch. A swimmer's waves are as it has them.
    pub fn waterline(&self) -> Option<Waterline> {
        let line = self.waterline_as_it_is()?;
        let zone = self.near.patch.zones()[line.zone];
        let off = water_of(&zone).map_or(0.0, |water| self.off_as_sampled(&zone, water));
        Some(Waterline { depth: line.depth + off / line.out.dot(self.up()).max(0.05), ..line })
    }

    /// The same with its waves where they are.
    fn waterline_as_it_is(&self) -> Option<Waterline> {
        if !self.near.patch.zones().iter().any(|zone| water_of(zone).is_some()) {
            return None;
        }
        let middle = MIDDLE * f64::from(self.near.shape.height);
        let mut top: Option<(f64, usize)> = None;
        // Where one ends another may go on: upward from what the middle is in, or is over.
        loop {
            let reached = top.map_or(middle, |(top, _)| top.max(middle) + AT);
            let mut higher = top;
            for (i, zone) in self.near.patch.zones().iter().enumerate() {
                let Some(water) = water_of(zone) else { continue };
                let (low, high) = self.stretch_in(zone, water);
                if low <= reached && high > low && higher.is_none_or(|(top, _)| high > top) {
                    higher = Some((high, i));
                }
            }
            if higher == top {
                break;
            }
            top = higher;
        }
        top.map(|(depth, zone)| self.surface_of(depth, zone))
    }

    /// How much higher a swimmer's waves are as last sampled, and as they have gone on since, than they are where it is: so that every
    /// tick rate has the same. Nothing where those were another water's.
    fn off_as_sampled(&self, zone: &Zone, water: &Water) -> f64 {
        if self.me.mode != Mode::Swim || water.waves == Waves::None {
            return 0.0;
        }
        let (clock, since) = (self.start_clock + self.near.time(), self.since_grid());
        // At a moment of the grid, until they are sampled there, they have gone on since the one before.
        let sampled = self.place_sampled.is_some_and(|then| (then - clock).abs() < ROUNDING);
        let since = if since < ROUNDING && !sampled { GRID } else { since };
        let [lift, rate] = self.me.activity.wave();
        let at = self.in_axes_of(zone, self.near.place);
        let off = lift + rate * since - self.lift(zone, water, at, self.near.time());
        if off.abs() < ANOTHER { off } else { 0.0 }
    }

    fn surface_of(&self, depth: f64, index: usize) -> Waterline {
        let zone = self.near.patch.zones()[index];
        let (up, place) = (self.up(), self.near.place);
        let Some(water) = water_of(&zone) else { return Waterline { depth, out: up, moves: DVec3::ZERO, zone: index } };
        let (at, local_up) = (self.in_axes_of(&zone, place), self.turned_into(&zone, up));
        let out = self.turned_out_of(&zone, water.surface.out_at(at, local_up));
        let body = self.near.patch.body(zone.body);
        let carried = if zone.body == 0 { DVec3::ZERO } else { body.velocity_at(place, self.near.time()) };
        // A swimmer's is as last sampled, so that every tick rate has the same.
        let swims = self.me.mode == Mode::Swim;
        let rises = if swims { self.me.activity.wave()[1] } else { self.waves_rise(&zone, water, out) };
        Waterline { depth, out, moves: carried + out * rises, zone: index }
    }

    /// The stretch of the line along up through the feet that is in a zone's water, metres over the feet; the greater first for none.
    fn stretch_in(&self, zone: &Zone, water: &Water) -> (f64, f64) {
        let (from, up) = (self.in_axes_of(zone, self.near.place), self.turned_into(zone, self.up()));
        let (mut low, mut high) = water.surface.under(from, up, self.lift(zone, water, from, self.near.time()));
        for axis in 0..3 {
            let (at, way) = (from[axis], up[axis]);
            let (near, far) = (zone.min[axis] - at, zone.max[axis] - at);
            if way.abs() < 1e-9 {
                if near > 0.0 || far < 0.0 {
                    return (f64::INFINITY, f64::NEG_INFINITY);
                }
                continue;
            }
            let (a, b) = (near / way, far / way);
            (low, high) = (low.max(a.min(b)), high.min(a.max(b)));
        }
        (low, high)
    }

    /// How high the waves of a zone are over their level at a place of its own axes, `t` seconds into the tick.
    fn lift(&self, zone: &Zone, water: &Water, at: DVec3, t: f64) -> f64 {
        match &water.waves {
            Waves::None => 0.0,
            Waves::Swells(swells) => {
                let sum: f64 = swells.iter().flatten().map(|swell: &Swell| swell.lift(at, t)).sum();
                if sum.is_finite() { sum } else { 0.0 }
            }
            Waves::Own => self.near.wave(zone.id, at, t),
        }
    }

    /// How fast the waves of a zone lift whoever goes across as it does, m/s: in the mean over a step of the grid.
    fn waves_rise(&self, zone: &Zone, water: &Water, out: DVec3) -> f64 {
        if water.waves == Waves::None {
            return 0.0;
        }
        let velocity = self.me.velocity + self.carried;
        let across = velocity - out * velocity.dot(out);
        let (at, now) = (self.in_axes_of(zone, self.near.place), self.near.time());
        let ahead = at + self.turned_into(zone, across) * GRID;
        (self.lift(zone, water, ahead, now + GRID) - self.lift(zone, water, at, now)) / GRID
    }

    /// How high waves lift the surface over it, metres, and how fast, m/s: for a swimmer to keep.
    pub fn waves_here(&self, line: &Waterline) -> (f64, f64) {
        let zone = self.near.patch.zones()[line.zone];
        let Some(water) = water_of(&zone) else { return (0.0, 0.0) };
        let at = self.in_axes_of(&zone, self.near.place);
        (self.lift(&zone, water, at, self.near.time()), self.waves_rise(&zone, water, line.out))
    }

    /// Seconds since the last moment of the grid.
    pub fn since_grid(&self) -> f64 {
        let clock = self.start_clock + self.near.time();
        (clock - ((clock + ROUNDING) / GRID).floor() * GRID).max(0.0)
    }

    /// The game's own name of the body whose water this is; 0 for the world's.
    pub fn body_of(&self, line: &Waterline) -> u64 {
        self.near.patch.body(self.near.patch.zones()[line.zone].body).id
    }

    /// The current in the middle of what of it is under water, m/s in the world: the highest zone's has the last word.
    pub fn current_at(&self, line: &Waterline) -> DVec3 {
        let under = 0.5 * line.depth.clamp(0.0, f64::from(self.near.shape.height));
        let place = self.near.place + self.up() * under;
        let mut current = DVec3::ZERO;
        for zone in self.near.patch.zones() {
            let Some(water) = water_of(zone) else { continue };
            let part = zone.part(self.in_axes_of(zone, place));
            if part > 0.0 && water.current.is_finite() {
                let flows = water.current.clamp_length_max(crate::terrain::MOST_CURRENT).as_dvec3();
                current += (self.turned_out_of(zone, flows) - current) * part;
            }
        }
        current
    }

    /// How fast the depth changes now, m/s, and how that changes on a path against what carries it, m/s².
    fn deepening(&self, line: &Waterline, path: &Path) -> (f64, f64) {
        let steep = line.out.dot(self.up()).max(0.05);
        let against = line.moves - path.velocity - self.carried;
        (against.dot(line.out) / steep, -path.rate.dot(line.out) / steep)
    }

    /// How fast it gets deeper, m/s.
    pub fn sinks_at(&self, line: &Waterline) -> f64 {
        self.deepening(line, &Path { velocity: self.me.velocity, rate: DVec3::ZERO, span: 0.0 }).0
    }

    /// Seconds along a path against what carries it until it is this deep; infinite where it is so deep now, or not on this path.
    pub fn time_to_depth(&self, line: &Waterline, path: &Path, depth: f64) -> f64 {
        let left = depth - line.depth;
        if left.abs() <= AT {
            return f64::INFINITY;
        }
        let (speed, rate) = self.deepening(line, path);
        first_time(left, speed, rate).filter(|t| *t < path.span).unwrap_or(f64::INFINITY)
    }

    /// Readout of the water at the end.
    pub fn tell_water(&mut self) {
        if self.is_far_from_water() {
            return;
        }
        let Some(line) = self.waterline_as_it_is().filter(|line| line.depth > 0.0) else { return };
        let height = f64::from(self.near.shape.height);
        self.told.water = Some(Wet {
            depth: line.depth as f32,
            part: (line.depth / height).min(1.0) as f32,
            surface: self.near.place + self.up() * line.depth,
            normal: self.normal_of(&line),
            under: self.me.marks.under_water(),
            time_under: self.me.time_under,
            current: self.me.current().as_vec3(),
        });
    }

    /// The unit normal of the surface over it, by how its waves slope there.
    pub fn normal_of(&self, line: &Waterline) -> Vec3 {
        let zone = self.near.patch.zones()[line.zone];
        let Some(water) = water_of(&zone).filter(|water| water.waves != Waves::None) else { return line.out.as_vec3() };
        let (right, ahead) = line.out.any_orthonormal_pair();
        let slope = |way: DVec3| {
            let lift = |at: DVec3| self.lift(&zone, water, self.in_axes_of(&zone, at), self.near.time());
            (lift(self.near.place + way * SLOPE) - lift(self.near.place - way * SLOPE)) / (2.0 * SLOPE)
        };
        let normal = line.out - right * slope(right) - ahead * slope(ahead);
        (normal / normal.length()).as_vec3()
    }

    /// A place of the world, as it is now, in the axes of a zone.
    fn in_axes_of(&self, zone: &Zone, place: DVec3) -> DVec3 {
        if zone.body == 0 {
            return place;
        }
        let body = self.near.patch.body(zone.body);
        body.to_local(body.pose(self.near.time()).trace_back(place))
    }

    /// A direction of the world in the axes of a zone.
    fn turned_into(&self, zone: &Zone, way: DVec3) -> DVec3 {
        if zone.body == 0 {
            return way;
        }
        let place = self.near.place;
        self.in_axes_of(zone, place + way) - self.in_axes_of(zone, place)
    }

    /// And back.
    fn turned_out_of(&self, zone: &Zone, way: DVec3) -> DVec3 {
        if zone.body == 0 {
            return way;
        }
        let body = self.near.patch.body(zone.body);
        body.pose(self.near.time()).turn(body.to_world(way) - body.place)
    }
}

fn water_of(zone: &Zone) -> Option<&Water> {
    if let Effect::Water(water) = &zone.effect { Some(water).filter(|water| water.surface.is_sane()) } else { None }
}

/// The first time over 0 at which `speed * t + rate * t² / 2` is `way`, if it ever is.
fn first_time(way: f64, speed: f64, rate: f64) -> Option<f64> {
    let square = speed * speed + 2.0 * rate * way;
    if square < 0.0 {
        return None;
    }
    // The roots of rate/2 t² + speed t - way, without loss by cancelling.
    let q = speed + square.sqrt().copysign(speed);
    let both = [2.0 * way / q, -q / rate];
    both.into_iter().filter(|t| *t > 0.0 && t.is_finite()).reduce(f64::min)
}

#[cfg(test)]
mod tests {
    use super::first_time;

    #[test]
    fn the_first_time_is_the_first() {
        let close = |a: Option<f64>, b: f64| assert!((a.unwrap() - b).abs() < 1e-12, "{a:?} {b}");
        close(first_time(1.0, 2.0, 0.0), 0.5);
        close(first_time(1.0, 3.0, -4.0), 0.5);
        close(first_time(-1.0, 3.0, -8.0), 1.0);
        close(first_time(2.0, 0.0, 4.0), 1.0);
        assert_eq!(first_time(1.0, 1.0, -4.0), None);
        assert_eq!(first_time(1.0, -1.0, 0.0), None);
        assert_eq!(first_time(1.0, 0.0, 0.0), None);
    }
}
