//! Moving worlds: forty bodies that a game moves each tick, and characters among them.

use std::collections::BTreeMap;
use std::f64::consts::TAU;

use fastrand::Rng;
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Character, Event, EventKind, Intent, Mode, Modifiers, Scene, Solid, Spawn, Stance, State, Tick, Tuning,
    When, Workspace,
};

use super::land::mesh_of;
use super::parts::{between, floor, tilted};
use super::shapes::cuboid;
use super::walk::PRESETS;
use crate::audit::{Finding, FindingKind, Moment, Surface, Watch};
use crate::names::event_name;

/// The ways in which bodies move.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Motion {
    /// A plank that sways and tilts beside another.
    Plank,
    /// A low slab that turns on the spot.
    Slab,
    /// A gate that closes on a wall at a slant.
    Gate,
    /// A drum that turns about a level axis, half sunk in the floor.
    Drum,
    /// A platform that goes up and down.
    Lift,
    /// A block that comes down to the floor and rises again.
    Crusher,
    /// A disc that turns about a tilted axis.
    Disc,
    /// A block that is put somewhere else now and then, without a motion between.
    Put,
}

const MOTIONS: [Motion; 8] =
    [Motion::Plank, Motion::Slab, Motion::Gate, Motion::Drum, Motion::Lift, Motion::Crusher, Motion::Disc, Motion::Put];

/// Bodies in a world: five of each kind.
const BODIES: u64 = 40;
/// Characters in a world.
const CHARACTERS: usize = 200;
/// The distance between the places of two bodies, in metres.
const SPACING: f64 = 8.0;

/// One body: its triangles in its own axes and what its motion is made of.
struct Mover {
    motion: Motion,
    place: DVec3,
    turn: DQuat,
    speed: f64,
    phase: f64,
    triangles: Vec<[DVec3; 3]>,
}

/// A world of moving bodies.
pub struct MovingWorld {
    scene: Scene,
    movers: Vec<Mover>,
    still: Vec<[DVec3; 3]>,
}

/// Results of a moving world.
#[derive(Debug, Default)]
pub struct MovingResult {
    /// Ticks of all characters.
    pub ticks: u64,
    /// Events of a kind that tells of trouble, by name.
    pub troubles: BTreeMap<&'static str, u64>,
    /// Findings of the audits, with the number of the character.
    pub findings: Vec<(usize, Finding)>,
    /// The most closest-point queries of one tick.
    pub most_queries: u32,
    /// Closest-point queries of all ticks.
    pub queries: u64,
}

/// A tick of up to 1/60 s may take so many times the closest-point queries of a walking tick; a longer one more in proportion.
const MOST_WORK: u32 = 20;
/// Closest-point queries of a walking tick of 1/60 s over uneven land.
pub const WALKING_QUERIES: u32 = 5;
/// A character may be faster than what moves it by this, in m/s, before its speed is unexplained.
const SPARE_SPEED: f64 = 1.0;
/// Slower than this against what carries it, in m/s, a character is at rest.
const AT_REST: f64 = 1e-3;
/// A character at rest keeps its place on what carries it within this, in metres.
const DRIFT: f64 = 1e-3;

impl MovingWorld {
    /// The world of a seed.
    ///
    /// # Panics
    /// Never: all corners are finite.
    #[must_use]
    pub fn generate(seed: u64) -> MovingWorld {
        let mut rng = Rng::with_seed(seed ^ 0x00B0_D1E5);
        let mut still = floor(60.0, 0.0).to_vec();
        let mut movers = Vec::new();
        for id in 0..BODIES {
            let motion = MOTIONS[(id % 8) as usize];
            let place = DVec3::new((id % 8) as f64 - 3.5, 0.0, (id / 8) as f64 - 2.0) * SPACING;
            let mover = Mover::new(motion, place, &mut rng);
            still.extend(mover.fixed());
            movers.push(mover);
        }
        let mut scene = Scene::new().with(mesh_of(&still));
        for (id, mover) in movers.iter().enumerate() {
            let (place, turn) = mover.pose(0.0);
            scene.add(id as u64 + 1, Solid::mesh(mesh_of(&mover.triangles)), place, turn).expect("a new number");
        }
        MovingWorld { scene, movers, still }
    }

    /// Moves everything for so many seconds at a tick rate, with presets in turn or with one tuning, shown each tick of each character before it is made.
    ///
    /// # Panics
    /// Never: every body is known and every tick is valid.
    pub fn play(
        &mut self,
        seed: u64,
        rate: f64,
        length: f64,
        tuning: Option<&Tuning>,
        mut see: impl FnMut(usize, &Tick<'_>, &Character, &Intent),
    ) -> MovingResult {
        let mut rng = Rng::with_seed(seed);
        let mut people = self.spawn(tuning, &mut rng);
        let (mut result, mut work) = (MovingResult::default(), Workspace::new());
        let mut surface = Surface::of(&Scene::new().with(mesh_of(&self.still)));
        let dt = 1.0 / rate;
        for number in 0..(length * rate) as u64 {
            let (from, to) = (number as f64 * dt, (number + 1) as f64 * dt);
            let fastest = self.take(number, from, to);
            surface.set_moving(self.movers.iter().flat_map(|mover| mover.placed(to)));
            for (index, person) in people.iter_mut().enumerate() {
                person.think(dt, &mut rng);
                let (before, tuning) = (*person.hero.state(), person.tuning);
                let tick = Tick { number, terrain: &self.scene, tuning: &tuning, modifiers: &Modifiers::default(), dt };
                see(index, &tick, &person.hero, &person.intent);
                let outcome = tick.step(&mut work, &mut person.hero, &person.intent, &[]).expect("a valid tick");
                let events = outcome.events.to_vec();
                let after = *person.hero.state();
                let moment = Moment {
                    terrain: &self.scene,
                    surface: &surface,
                    tuning: &tuning,
                    when: When::tick(number + 1, dt),
                    dt,
                    wish: Vec3::ZERO,
                    before: &before,
                    after: &after,
                    events: &events,
                };
                person.watch.look(&moment);
                person.judge(index, &moment, (fastest, work.take_queries()), &mut result);
                let stays = person.intent.heading == Intent::default().heading && before.stance == after.stance;
                let foothold = self.foothold(&after, &tuning, to).filter(|_| stays);
                person.rest(index, foothold, &mut result);
            }
        }
        for (index, person) in people.into_iter().enumerate() {
            result.findings.extend(person.watch.finish().into_iter().map(|finding| (index, finding)));
        }
        result
    }

    /// Has every body make its motion of a tick. Returns the fastest speed of any corner, in m/s.
    fn take(&mut self, number: u64, from: f64, to: f64) -> f64 {
        let mut fastest = 0.0f64;
        for (id, mover) in self.movers.iter().enumerate() {
            let (place, turn) = mover.pose(to);
            let id = id as u64 + 1;
            if mover.is_put_between(from, to) {
                self.scene.put(id, place, turn).expect("a known body");
                continue;
            }
            self.scene.take(id, place, turn, number..number + 1).expect("a known body");
            let ends = mover.placed(from).zip(mover.placed(to));
            let speeds = ends.map(|(a, b)| (b[0] - a[0]).length() / (to - from));
            fastest = speeds.fold(fastest, f64::max);
        }
        fastest
    }

    /// The body that a character stands at rest on, by number, and where on it the middle of the round foot is.
    fn foothold(&self, hero: &State, tuning: &Tuning, t: f64) -> Option<(u64, DVec3)> {
        let id = hero.ground.body();
        let mover = self.movers.get(usize::try_from(id).ok()?.checked_sub(1)?)?;
        let own = hero.velocity - hero.carried.as_dvec3();
        let (place, turn) = mover.pose(t);
        let at_rest = hero.mode == Mode::Ground && own.length() < AT_REST && mover.motion != Motion::Put;
        let middle = hero.position + (hero.up * tuning.shape_in(hero.stance).radius).as_dvec3();
        at_rest.then(|| (id, turn.inverse() * (middle - place)))
    }

    fn spawn(&self, tuning: Option<&Tuning>, rng: &mut Rng) -> Vec<Person> {
        let mut people = Vec::new();
        while people.len() < CHARACTERS {
            let near = self.movers[rng.usize(..self.movers.len())].place;
            let place = near + DVec3::new(between(rng, -4.0, 4.0), between(rng, 0.0, 2.0), between(rng, -4.0, 4.0));
            let preset = || Tuning::preset(PRESETS[people.len() % PRESETS.len()]);
            let Some(tuning) = tuning.copied().or_else(preset) else { continue };
            if let Ok(hero) = Character::spawn(&self.scene, &tuning, Spawn::at(place)) {
                let home = near;
                people.push(Person {
                    hero,
                    tuning,
                    home,
                    intent: Intent::default(),
                    watch: Watch::new(),
                    fast: false,
                    foothold: None,
                });
            }
        }
        people
    }
}

impl Mover {
    fn new(motion: Motion, place: DVec3, rng: &mut Rng) -> Mover {
        let flat = DQuat::from_rotation_y(between(rng, 0.0, TAU));
        let half = |x: f64, y: f64, z: f64| cuboid(DVec3::ZERO, DVec3::new(x, y, z), DQuat::IDENTITY).to_vec();
        let (triangles, turn) = match motion {
            Motion::Plank => {
                let two = [-0.75, 0.75].map(|x| cuboid(DVec3::X * x, DVec3::new(0.72, 0.05, 1.0), DQuat::IDENTITY));
                (two.concat(), flat)
            }
            Motion::Slab => (half(3.0, 0.15, 3.0), flat),
            Motion::Gate => (half(3.0, 1.5, 0.25), DQuat::from_rotation_y(between(rng, 0.0, 0.4))),
            Motion::Drum => (drum(1.5, 1.5, 20), flat),
            Motion::Lift => (half(1.5, 0.1, 1.5), flat),
            Motion::Crusher => (half(1.2, 0.5, 1.2), flat),
            Motion::Disc => (drum(2.5, 0.1, 16), tilted(rng, 0.3) * DQuat::from_rotation_x(0.25 * TAU)),
            Motion::Put => (half(0.8, 0.8, 0.8), tilted(rng, 0.3)),
        };
        Mover { motion, place, turn, speed: between(rng, 0.3, 1.0), phase: between(rng, 0.0, TAU), triangles }
    }

    /// Where it is at a time.
    fn pose(&self, t: f64) -> (DVec3, DQuat) {
        let wave = (self.speed * TAU * 0.5 * t + self.phase).sin();
        let about = |axis: DVec3, angle: f64| DQuat::from_axis_angle(axis, angle);
        let (offset, turn) = match self.motion {
            Motion::Plank => {
                let roll = about(DVec3::X, 0.25 * wave) * about(DVec3::Z, 0.2 * (1.7 * t + self.phase).sin());
                (DVec3::new(0.0, 0.6 + 0.2 * wave, 0.3 * wave), self.turn * roll)
            }
            Motion::Slab => (DVec3::ZERO, about(DVec3::Y, 1.8 * self.speed * t) * self.turn),
            Motion::Gate => (DVec3::new(0.0, 1.5, -1.0 + 1.5 * wave), self.turn),
            Motion::Drum => (DVec3::ZERO, self.turn * about(DVec3::Z, self.speed * t)),
            Motion::Lift => (DVec3::Y * (1.3 + 1.2 * wave), self.turn),
            Motion::Crusher => (DVec3::Y * (1.6 + 1.0 * wave), self.turn),
            Motion::Disc => (DVec3::Y * 0.5, self.turn * about(DVec3::Z, 1.5 * self.speed * t)),
            Motion::Put => {
                let hop = self.hop(t);
                let at = |n: f64| ((hop * n + self.phase) * 1.618_034).fract() * 5.0 - 2.5;
                (DVec3::new(at(1.0), 0.7, at(2.0)), self.turn)
            }
        };
        (self.place + offset, turn)
    }

    /// Which of its places a body that is put is at.
    fn hop(&self, t: f64) -> f64 {
        (t * self.speed + self.phase).floor()
    }

    fn is_put_between(&self, from: f64, to: f64) -> bool {
        self.motion == Motion::Put && self.hop(from) != self.hop(to)
    }

    /// Its triangles where they are at a time.
    fn placed(&self, t: f64) -> impl Iterator<Item = [DVec3; 3]> + '_ {
        let (place, turn) = self.pose(t);
        self.triangles.iter().map(move |triangle| triangle.map(|corner| place + turn * corner))
    }

    /// Static geometry beside it: the wall that a gate closes on.
    fn fixed(&self) -> Vec<[DVec3; 3]> {
        match self.motion {
            Motion::Gate => {
                let middle = self.place + DVec3::new(0.0, 1.5, 1.5);
                cuboid(middle, DVec3::new(4.0, 1.5, 0.3), DQuat::IDENTITY).to_vec()
            }
            _ => Vec::new(),
        }
    }
}

/// A round body about the z axis.
fn drum(radius: f64, half: f64, sides: u32) -> Vec<[DVec3; 3]> {
    let at = |n: u32, z: f64| {
        let (sine, cosine) = (f64::from(n) / f64::from(sides) * TAU).sin_cos();
        DVec3::new(radius * cosine, radius * sine, z)
    };
    let side = |n: u32| {
        let [a, b, c, d] = [at(n, -half), at(n + 1, -half), at(n + 1, half), at(n, half)];
        [[a, b, c], [a, c, d], [DVec3::Z * -half, b, a], [DVec3::Z * half, d, c]]
    };
    (0..sides).flat_map(side).collect()
}

/// A character and who plays it.
struct Person {
    hero: Character,
    tuning: Tuning,
    home: DVec3,
    intent: Intent,
    watch: Watch,
    fast: bool,
    /// The body it has been at rest on, by number, and where on it; none once a drift was found.
    foothold: Option<(u64, DVec3)>,
}

impl Person {
    /// Changes what it wants about once a second, and comes back to the body it began at.
    fn think(&mut self, dt: f64, rng: &mut Rng) {
        if rng.f64() > dt / 0.7 {
            return;
        }
        let home = self.home - self.hero.position;
        let way = DVec3::new(between(rng, -1.0, 1.0), 0.0, between(rng, -1.0, 1.0));
        let way = if home.length() > 4.0 { home / home.length() } else { way };
        let intent = Intent::toward(if rng.f64() < 0.25 { Vec3::ZERO } else { way.as_vec3() });
        let intent = intent.in_stance([Stance::Stand, Stance::Stand, Stance::Crouch, Stance::Prone][rng.usize(..4)]);
        let intent = if rng.f64() < 0.3 { intent.hold(Button::Jump) } else { intent };
        let intent = if rng.f64() < 0.3 { intent.hold(Button::Sprint) } else { intent };
        self.intent = if rng.f64() < 0.3 { intent.guarded() } else { intent };
    }

    /// Notes where it drifts on what it stands on at rest.
    fn rest(&mut self, index: usize, now: Option<(u64, DVec3)>, result: &mut MovingResult) {
        let since = self.foothold.filter(|(id, _)| now.is_some_and(|(body, _)| body == *id));
        let Some(((_, first), (_, now))) = since.zip(now) else {
            self.foothold = now;
            return;
        };
        let distance = (now - first).length();
        if distance > DRIFT {
            let (time, place) = (self.hero.clock, self.hero.position);
            result.findings.push((index, Finding { time, place, kind: FindingKind::Drift { distance } }));
            self.foothold = None;
        }
    }

    /// Notes what only moving worlds bring about: trouble that is told, work, and speed that nothing gave.
    fn judge(&mut self, index: usize, moment: &Moment<'_>, (fastest, queries): (f64, u32), result: &mut MovingResult) {
        result.ticks += 1;
        result.queries += u64::from(queries);
        result.most_queries = result.most_queries.max(queries);
        let trouble = |e: &&Event| {
            matches!(
                e.kind,
                EventKind::Crushed { .. }
                    | EventKind::Stuck
                    | EventKind::PushedOut { .. }
                    | EventKind::TimeDropped { .. }
            )
        };
        for event in moment.events.iter().filter(trouble) {
            *result.troubles.entry(event_name(&event.kind)).or_default() += 1;
        }
        let (before, after, values) = (moment.before, moment.after, moment.tuning.values());
        let own = f64::from(values.sprint.map_or(values.ground.speed, |s| s.speed))
            + f64::from(values.air.gravity) * moment.dt;
        let jump = moment.tuning.take_off_speed().max(values.dash.map_or(0.0, |d| f64::from(d.distance / d.time)));
        let given =
            before.velocity.length().max(fastest + own.max(jump)) + f64::from(values.air.gravity) * 2.0 * moment.dt;
        let speed = after.velocity.length();
        let is_fast = speed > given + SPARE_SPEED;
        let mut add = |kind| {
            result.findings.push((index, Finding { time: after.clock, place: after.position, kind }));
        };
        if is_fast && !self.fast {
            add(FindingKind::UnexplainedSpeed { speed });
        }
        let ticks = (moment.dt * 60.0).max(1.0);
        if f64::from(queries) > ticks * f64::from(MOST_WORK * WALKING_QUERIES) {
            add(FindingKind::TooMuchWork { queries });
        }
        self.fast = is_fast;
    }
}
