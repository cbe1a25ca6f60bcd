//! One click walked to, and what is noted of it on the way.

use std::time::Instant;

use newel::glam::DVec3;
use newel::{Intent, Mode, Runner};
use newel_lab::Course;
use newel_routes::{Leg, Route, Routes, Travel, Trip, TripEnd};

use crate::Tally;

/// No trip on the islet takes longer, seconds.
const LONGEST: f64 = 120.0;

/// Walks to a place; true where it arrived.
pub fn go(keeper: &mut Runner, course: &Course, routes: &Routes, place: DVec3, rate: f64, tally: &mut Tally) -> bool {
    let mut trip = Trip::new(Travel::default());
    trip.go(place);
    let begins = keeper.character.clock;
    let mut walk = Walk::new(place);
    while keeper.character.clock - begins < LONGEST {
        let asked = Instant::now();
        let mut first = None;
        let drive = |me: &newel::Before<'_>| {
            let intent = trip.drive(Intent::default(), me, &course.scene, routes);
            first = Some(asked.elapsed().as_secs_f64());
            intent
        };
        keeper.advance(1.0 / rate, &course.scene, &course.tuning, drive, |_| {}).expect("a tick in range");
        if let Some(route) = trip.route().filter(|route| walk.is_new(route)) {
            tally.plans.extend(first);
            walk.note_plan(course, route);
        }
        walk.watch(keeper, &trip);
        if let Some(end) = trip.take_end() {
            return walk.end(keeper, end, keeper.character.clock - begins, tally);
        }
    }
    tally.stuck += 1;
    let (mode, at) = (keeper.character.mode, keeper.character.position);
    eprintln!("no end: {mode:?} {at:?} on leg {} of {:?}", trip.leg(), trip.route());
    tally.other_ends.push(format!("no end at {at} on the way to {place}"));
    false
}

/// Records of the way.
struct Walk {
    place: DVec3,
    /// The plans made, and how long the last should take, seconds: by its own account, and by its length alone.
    planned: Vec<Vec<Leg>>,
    best: Option<(f64, f64)>,
    /// How near the end it has been, and how much further off again.
    nearest: f64,
    worst: f64,
    overshot: bool,
    /// When it was last off the ground.
    flew: f64,
}

impl Walk {
    fn new(place: DVec3) -> Walk {
        let (nearest, flew) = (f64::INFINITY, f64::NEG_INFINITY);
        Walk { place, planned: Vec::new(), best: None, nearest, worst: 0.0, overshot: false, flew }
    }

    fn is_new(&self, route: &Route) -> bool {
        self.planned.last() != Some(&route.legs)
    }

    fn note_plan(&mut self, course: &Course, route: &Route) {
        self.planned.push(route.legs.clone());
        let ground = course.tuning.values().ground;
        let rates = 1.0 / f64::from(ground.acceleration) + 1.0 / f64::from(ground.deceleration);
        let stopping = 0.5 * f64::from(ground.speed) * rates;
        self.best = Some((route.seconds, route.length / f64::from(ground.speed) + stopping));
    }

    /// Whether it goes past its end: on the last leg, where that is long enough to stop on, and not just after a flight.
    fn watch(&mut self, keeper: &Runner, trip: &Trip) {
        let now = keeper.character.clock;
        if keeper.character.mode != Mode::Ground {
            self.flew = now;
        }
        let Some(last) = trip.route().filter(|route| trip.leg() + 1 >= route.legs.len()) else { return };
        let end = last.end();
        let before = last.legs.iter().rev().nth(1).map_or(end + DVec3::X, |leg| leg.to);
        let off = ((keeper.character.position - end) * DVec3::new(1.0, 0.0, 1.0)).length();
        if off < 0.5 && (before - end).length() > 0.5 && now - self.flew > 0.6 {
            self.worst = self.worst.max(off - self.nearest);
            self.overshot |= off > self.nearest + 1e-3;
            self.nearest = self.nearest.min(off);
        }
    }

    /// It has come to an end after so many seconds; true where it arrived.
    fn end(&self, keeper: &Runner, end: TripEnd, taken: f64, tally: &mut Tally) -> bool {
        let (place, tells) = (self.place, std::env::var_os("SLOW").is_some());
        if self.overshot && tells {
            eprintln!("overshot by {:.1} mm at {:.4}: {place}", 1e3 * self.worst, self.nearest);
        }
        tally.overshoots += usize::from(self.overshot);
        tally.far_overshoots += usize::from(self.worst > 0.1);
        tally.anew += usize::from(self.planned.len() > 1);
        match end {
            TripEnd::Arrived { off } => {
                tally.arrived += 1;
                tally.beside += usize::from(off > 0.1);
                if let Some((best, plain)) = self.best.filter(|_| self.planned.len() == 1) {
                    tally.note_time(taken, best, plain);
                    if tells && taken / best > 1.05 {
                        eprintln!("slow: {taken:.2} s for {best:.2} s to {place}");
                    }
                }
                return true;
            }
            TripEnd::Short { .. } => tally.no_way += 1,
            other => {
                let at = keeper.character.position;
                tally.other_ends.push(format!("{} at {at:.2} on the way to {place:.2}", other.words()));
            }
        }
        false
    }
}
