//! Ten thousand clicks on the islet: where they lead, how they end, how long they take, and whether any was refused that could be walked to.
//!
//! `cargo run --release -p newel-lab --example clicks -- 10000`

#[path = "../common/dice.rs"]
mod dice;
mod flood;
mod walk;

use std::time::Instant;

use dice::Dice;
use flood::{Flood, Rules};
use newel::glam::DVec3;
use newel::{Runner, Terrain, When};
use newel_lab::Course;
use newel_routes::{NoPlace, Routes, Survey};

/// On the path before the door: rays from above meet no roof there.
const OUTSIDE: DVec3 = DVec3::new(-1.0, 5.9, 6.5);
/// The camera: over the islet's south, looking down on it.
const CAMERA: DVec3 = DVec3::new(4.0, 45.0, 70.0);

/// Results of all clicks of a keeper.
#[derive(Default)]
struct Tally {
    clicks: usize,
    arrived: usize,
    /// Of those, farther from the place picked than the radius.
    beside: usize,
    no_place: usize,
    no_way: usize,
    other_ends: Vec<String>,
    overshoots: usize,
    /// And by more than the radius.
    far_overshoots: usize,
    stuck: usize,
    walkable: usize,
    false_refusals: Vec<DVec3>,
    anew: usize,
    /// Time taken in parts of the best for the route, of those that went as first planned.
    ratios: Vec<f64>,
    /// The same in parts of what its length alone takes at full speed.
    plain_ratios: Vec<f64>,
    /// Both added up, seconds.
    sums: (f64, f64),
    plans: Vec<f64>,
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let clicks: usize = std::env::args().nth(1).map_or(Ok(1000), |n| n.parse())?;
    let course = Course::load(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/courses/gull-rock.toml"))?;
    let (level, tuning) = (&course.scene, &course.tuning);
    let ground = tuning.values().ground;
    let rules = Rules {
        steepest: f64::from(ground.steepest) - 2.0,
        step: 0.3,
        radius: f64::from(tuning.shape().radius),
        lowest: 0.0,
    };
    let flood = Flood::new(level, &rules, OUTSIDE);
    println!("flood fill: {:.0} m2 can be walked to from before the door", flood.area());

    let routes = Routes::new(Survey::of(tuning), tuning)?;
    let began = Instant::now();
    routes.prepare(level, DVec3::new(-42.0, 0.0, -34.0), DVec3::new(52.0, 0.0, 38.0))?;
    let size = routes.surveyed();
    println!(
        "surveyed in {:.2} s on {} threads: {} tiles, {} places, {:.2} MB",
        began.elapsed().as_secs_f64(),
        std::thread::available_parallelism().map_or(1, usize::from),
        size.tiles,
        size.places,
        size.bytes as f64 / 1e6
    );
    let keepers = 4;
    let share = |n: usize| clicks / keepers + usize::from(n < clicks % keepers);
    let (course, flood, routes) = (&course, &flood, &routes);
    let tallies: Vec<Tally> = std::thread::scope(|scope| {
        let walks: Vec<_> =
            (0..keepers).map(|n| scope.spawn(move || walk_about(course, flood, routes, share(n), n as u64))).collect();
        walks.into_iter().map(|w| w.join().expect("no panic")).collect()
    });
    let all = tallies.into_iter().fold(Tally::default(), Tally::and);
    all.print();
    let fine = all.stuck == 0 && all.beside == 0 && all.false_refusals.len() * 1000 <= all.walkable;
    if fine {
        Ok(())
    } else {
        Err("a trip had no end, or came to another place than was picked, or a click was refused that could be walked to".into())
    }
}

fn walk_about(course: &Course, flood: &Flood, routes: &Routes, clicks: usize, seed: u64) -> Tally {
    let (level, tuning) = (&course.scene, &course.tuning);
    let mut dice = Dice(seed * 1_000_003 + 17);
    let mut tally = Tally::default();
    let home = || Runner::spawn(level, tuning, course.spawn).expect("the course's own spawn");
    let mut keeper = home();
    let rates = [30.0, 60.0, 144.0, 240.0];
    while tally.clicks < clicks {
        tally.clicks += 1;
        // A click anywhere on the map, seen by the camera; every other one from straight above.
        let aim = DVec3::new(dice.between(-40.0, 48.0), 3.0, dice.between(-30.0, 32.0));
        let from = if tally.clicks % 2 == 0 { CAMERA } else { aim + DVec3::Y * 50.0 };
        let along = (aim - from).normalize().as_vec3();
        let when = When::tick(0, 1.0 / 60.0);
        let hit = level.cast(when, from, along, 1000.0).map(|h| from + along.as_dvec3() * h.distance);
        // Only from where it can be walked to does the fill say anything.
        let can_be_walked = hit.is_some_and(|hit| flood.reaches(hit)) && flood.reaches(keeper.character.position);
        tally.walkable += usize::from(can_be_walked);
        let place = match routes.pick(level, from, along) {
            Ok(place) => place,
            Err(why) => {
                tally.no_place += 1;
                if can_be_walked {
                    tally.false_refusals.push(hit.unwrap_or_default());
                    eprintln!("refused: {why}");
                }
                if matches!(why, NoPlace::NotFinite { .. }) {
                    tally.other_ends.push(why.to_string());
                }
                continue;
            }
        };
        let rate = rates[tally.clicks % rates.len()];
        keeper = keeper.with_rate(rate).expect("a rate in range");
        let arrived = walk::go(&mut keeper, course, routes, place, rate, &mut tally);
        if can_be_walked && !arrived {
            tally.false_refusals.push(place);
            eprintln!("not arrived at {place}: {:?}", tally.other_ends.last());
        }
        // From a rock with no way back it is taken home.
        if !flood.reaches(keeper.character.position) && dice.unit() < 0.5 {
            keeper = home();
        }
    }
    tally
}

impl Tally {
    /// A trip has taken so many seconds, where it should have taken `best`, or by its length alone `plain`.
    fn note_time(&mut self, taken: f64, best: f64, plain: f64) {
        self.plain_ratios.push(taken / plain);
        self.ratios.push(taken / best);
        self.sums = (self.sums.0 + taken, self.sums.1 + best);
    }

    fn and(mut self, other: Tally) -> Tally {
        self.clicks += other.clicks;
        self.arrived += other.arrived;
        self.beside += other.beside;
        self.no_place += other.no_place;
        self.no_way += other.no_way;
        self.overshoots += other.overshoots;
        self.far_overshoots += other.far_overshoots;
        self.stuck += other.stuck;
        self.walkable += other.walkable;
        self.anew += other.anew;
        self.other_ends.extend(other.other_ends);
        self.false_refusals.extend(other.false_refusals);
        self.sums = (self.sums.0 + other.sums.0, self.sums.1 + other.sums.1);
        self.ratios.extend(other.ratios);
        self.plain_ratios.extend(other.plain_ratios);
        self.plans.extend(other.plans);
        self
    }

    fn print(&self) {
        let other = self.other_ends.len() - self.stuck;
        println!(
            "{} clicks: {} arrived, {} of them beside the place picked, {} as near as a way leads, {} on no place to stand, {other} ended otherwise, {} stuck",
            self.clicks, self.arrived, self.beside, self.no_way, self.no_place, self.stuck
        );
        self.other_ends.iter().take(12).for_each(|end| println!("  {end}"));
        println!(
            "{} overshot by more than 1 mm, {} of them by more than the radius; {} planned again on the way",
            self.overshoots, self.far_overshoots, self.anew
        );
        println!(
            "{} clicks the flood fill calls walkable: {} refused or not arrived ({:.3} %)",
            self.walkable,
            self.false_refusals.len(),
            100.0 * self.false_refusals.len() as f64 / self.walkable.max(1) as f64
        );
        let quantile = |values: &[f64], part: f64| {
            let mut sorted = values.to_vec();
            sorted.sort_by(f64::total_cmp);
            sorted.get(((sorted.len() as f64 - 1.0) * part) as usize).copied().unwrap_or(f64::NAN)
        };
        let within = self.ratios.iter().filter(|r| **r <= 1.05).count();
        println!(
            "time over what the route should take: all together {:.3}, median {:.3}, 95 % {:.3}, 99 % {:.3}, most {:.3}; {:.2} % within 5 %",
            self.sums.0 / self.sums.1,
            quantile(&self.ratios, 0.5),
            quantile(&self.ratios, 0.95),
            quantile(&self.ratios, 0.99),
            quantile(&self.ratios, 1.0),
            100.0 * within as f64 / self.ratios.len().max(1) as f64
        );
        let plain = self.plain_ratios.iter().filter(|r| **r <= 1.05).count();
        println!(
            "over its length alone at full speed, from rest to rest: median {:.3}, 95 % {:.3}; {:.2} % within 5 %",
            quantile(&self.plain_ratios, 0.5),
            quantile(&self.plain_ratios, 0.95),
            100.0 * plain as f64 / self.plain_ratios.len().max(1) as f64
        );
        println!(
            "planning with the tick: median {:.2} ms, 95 % {:.2} ms, most {:.2} ms",
            1e3 * quantile(&self.plans, 0.5),
            1e3 * quantile(&self.plans, 0.95),
            1e3 * quantile(&self.plans, 1.0)
        );
    }
}
