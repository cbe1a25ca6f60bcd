//! Which sensors it came into and left in a tick, and when: by the way it went, piece by piece.

use glam::DVec3;

use super::Run;
use crate::figure::Figure;
use crate::outcome::{Event, EventKind};
use crate::terrain::{Sensor, Terrain, When};

/// How far a straight way may be off the one that was gone, metres.
const OFF: f64 = 1e-4;
/// The most straight ways that one piece is cut into.
const MOST: f64 = 256.0;
/// A velocity this near to what a parabola makes of it is that of one, in parts and in m/s.
const PARABOLA: (f64, f64) = (0.01, 1e-3);

/// The way of a box about the character, in a piece of a tick.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Stretch {
    /// Seconds into the tick.
    pub from: f64,
    pub to: f64,
    /// The middle of the box, in the world.
    pub start: DVec3,
    pub end: DVec3,
    pub velocity: DVec3,
    pub last_velocity: DVec3,
    /// Half its sides.
    pub half: DVec3,
    /// From its middle to the feet.
    pub feet: DVec3,
}

impl Run<'_> {
    /// A piece that began at `place` with this velocity, `from` seconds into the tick, has ended where it is now.
    pub fn note_stretch(&mut self, from: f64, place: DVec3, velocity: DVec3) {
        let last_velocity = self.me.velocity + self.carried;
        let (middle, half) = self.near.bounding_box();
        let feet = self.near.place - middle;
        let (start, to) = (place - feet, self.near.time());
        self.stretches.push(Stretch { from, to, start, end: middle, velocity, last_velocity, half, feet });
    }
}

/// Tells the stretches from the `known`th on from the tick's start, which is `begins` seconds before the slice that they are of; what was
/// gone before the tick is left out.
pub(crate) fn into_tick(stretches: &mut Vec<Stretch>, known: usize, begins: f64) {
    stretches[known..].iter_mut().for_each(|stretch| *stretch = stretch.later(begins));
    let mut n = 0;
    stretches.retain(|stretch| {
        n += 1;
        n <= known || stretch.to > 0.0
    });
}

impl Stretch {
    /// The way of one that stands still for the first `span` seconds of a tick.
    pub fn still(figure: Figure, place: DVec3, span: f64) -> Stretch {
        let ((middle, half), velocity) = (figure.bounding_box(place), DVec3::ZERO);
        let feet = place - middle;
        Stretch { from: 0.0, to: span, start: middle, end: middle, velocity, last_velocity: velocity, half, feet }
    }

    /// The way from one moment, place and velocity of the feet to another; told from a tick's start, `begins` seconds before those moments
    /// are counted from.
    pub fn way(figure: Figure, begins: f64, from: (f64, DVec3, DVec3), to: (f64, DVec3, DVec3)) -> Stretch {
        let ((start, half), (end, _)) = (figure.bounding_box(from.1), figure.bounding_box(to.1));
        let (velocity, last_velocity) = (from.2, to.2);
        Stretch {
            from: from.0 + begins,
            to: to.0 + begins,
            start,
            end,
            velocity,
            last_velocity,
            half,
            feet: from.1 - start,
        }
    }

    /// The same so much later; without what is then before the tick.
    fn later(self, seconds: f64) -> Stretch {
        let (from, to) = (self.from + seconds, self.to + seconds);
        if from >= 0.0 || to <= 0.0 {
            return Stretch { from, to, ..self };
        }
        let (bend, gone) = (self.bend(), -from);
        let start = self.at(bend, gone / (to - from));
        Stretch { from: 0.0, to, start, velocity: self.velocity + bend * (2.0 * gone), ..self }
    }

    /// How it bends: half its acceleration, where it is a parabola; zero for what is taken as straight.
    fn bend(&self) -> DVec3 {
        let span = self.to - self.from;
        if span <= 0.0 {
            return DVec3::ZERO;
        }
        let bend = (self.end - self.start - self.velocity * span) / (span * span);
        let off = (self.velocity + bend * (2.0 * span) - self.last_velocity).length();
        let is_parabola = off <= PARABOLA.0 * self.last_velocity.length() + PARABOLA.1;
        if is_parabola { bend } else { DVec3::ZERO }
    }

    fn at(&self, bend: DVec3, part: f64) -> DVec3 {
        // To the bit: the next piece, or the next tick, begins there.
        if part == 1.0 {
            return self.end;
        }
        let t = part * (self.to - self.from);
        let straight = self.start + (self.end - self.start) * part;
        straight + bend * (t * t - t * (self.to - self.from))
    }

    /// How many straight ways it takes, seen from a sensor.
    fn cuts(&self, bend: DVec3, sensor: &Sensor) -> usize {
        let span = self.to - self.from;
        let off = (self.start - sensor.body.place).length().max((self.end - sensor.body.place).length());
        let (spin, speed) = (sensor.body.spin.length(), (self.end - self.start).length());
        let sagitta = bend.length() * span * span * 0.25 + spin * span * (spin * span * off + 2.0 * speed) * 0.125;
        (sagitta / OFF).sqrt().ceil().clamp(1.0, MOST) as usize
    }
}

/// Data of sensing: storage reused from tick to tick.
#[derive(Clone, Debug, Default)]
pub(crate) struct Sensing {
    pub stretches: Vec<Stretch>,
    pub inside: Vec<u64>,
    found: Vec<Sensor>,
}

impl Sensing {
    /// Tells what of the tick's way led into sensors and out of them, in order, among the events; and which it is in at the end.
    /// A new character enters the sensors that it is in.
    pub fn sense(&mut self, terrain: &dyn Terrain, when: When, (start, is_new): (f64, bool), events: &mut Vec<Event>) {
        self.inside.clear();
        self.found.clear();
        let corners = |s: &Stretch| {
            let bent = s.at(s.bend(), 0.5);
            (s.start.min(s.end).min(bent) - s.half, s.start.max(s.end).max(bent) + s.half)
        };
        let Some(within) = self.stretches.iter().map(corners).reduce(|a, b| (a.0.min(b.0), a.1.max(b.1))) else {
            return;
        };
        terrain.sensors(when, within, &mut self.found);
        if self.found.is_empty() {
            return;
        }
        let before = events.len();
        for sensor in &self.found {
            let sane = Sensor { body: sensor.body.sane(), ..*sensor };
            if follow(&self.stretches, &sane, (start, is_new), events) {
                self.inside.push(sensor.id);
            }
        }
        self.inside.sort_unstable();
        self.inside.dedup();
        if events.len() > before {
            // One moment keeps the order in which things happened, and after them by name.
            events[before..].sort_by(|a, b| a.time.total_cmp(&b.time).then(sensor_of(a).cmp(&sensor_of(b))));
            events.sort_by(|a, b| a.time.total_cmp(&b.time));
        }
    }
}

fn sensor_of(event: &Event) -> u64 {
    match event.kind {
        EventKind::SensorEntered { sensor } | EventKind::SensorLeft { sensor } => sensor,
        _ => 0,
    }
}

/// Reports how the way led into one sensor and out of it; true where it is inside at the end.
fn follow(stretches: &[Stretch], sensor: &Sensor, (start, is_new): (f64, bool), events: &mut Vec<Event>) -> bool {
    let mut inside = None;
    let mut tell = |entered: bool, s: &Stretch, time: f64, place: DVec3| {
        let kind = match entered {
            true => EventKind::SensorEntered { sensor: sensor.id },
            false => EventKind::SensorLeft { sensor: sensor.id },
        };
        events.push(Event { time: start + time, place: place + s.feet, velocity: s.velocity, kind });
    };
    for stretch in stretches {
        let bend = stretch.bend();
        let cuts = stretch.cuts(bend, sensor);
        for cut in 0..cuts {
            let parts = [cut, cut + 1].map(|n| n as f64 / cuts as f64);
            let places = parts.map(|part| stretch.at(bend, part));
            let times = parts.map(|part| stretch.from + (stretch.to - stretch.from) * part);
            let seen =
                |i: usize| (seen_from(sensor, times[i], places[i]), half_seen_from(sensor, times[i], stretch.half));
            let found = sensor.inside(seen(0), seen(1));
            let moment =
                |part: f64| (times[0] + (times[1] - times[0]) * part, places[0] + (places[1] - places[0]) * part);
            let at_start = found.is_some_and(|(enters, _)| enters == 0.0);
            // A character that begins the tick inside was inside, unless it is new.
            let was = inside.unwrap_or(at_start && !is_new);
            if was && !at_start {
                tell(false, stretch, times[0], places[0]);
            }
            let mut is = at_start && was;
            if let Some((enters, leaves)) = found {
                if !is {
                    let (time, place) = moment(enters);
                    tell(true, stretch, time, place);
                    is = true;
                }
                if leaves < 1.0 {
                    let (time, place) = moment(leaves);
                    tell(false, stretch, time, place);
                    is = false;
                }
            }
            inside = Some(is);
        }
    }
    inside.unwrap_or(false)
}

/// A place of the world in the axes of a sensor's body, `time` seconds into the tick.
fn seen_from(sensor: &Sensor, time: f64, place: DVec3) -> DVec3 {
    sensor.body.to_local(sensor.body.pose(time).trace_back(place))
}

/// Half the sides of the box in those axes about a box in the world's.
fn half_seen_from(sensor: &Sensor, time: f64, half: DVec3) -> DVec3 {
    let body = &sensor.body;
    let axes = [DVec3::X * half.x, DVec3::Y * half.y, DVec3::Z * half.z];
    let turned =
        axes.map(|axis| body.to_local(body.pose(time).trace_back(body.pose(time).carry(body.place) + axis)).abs());
    turned[0] + turned[1] + turned[2]
}
