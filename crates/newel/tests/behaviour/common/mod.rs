//! Worlds for the tests, and an audit that shares no code with the library.
#![allow(dead_code)]

pub mod oracle;
pub mod scenes;
pub mod script;
pub mod worlds;

use std::cell::Cell;

use newel::glam::{DQuat, DVec3, Vec3};
use oracle::segment_to_triangle;

use newel::{
    Axes, Change, Character, Command, Event, EventKind, Face, Heading, Intent, Launch, Mesh, Mode, Modifiers, Patch,
    RayHit, Readout, Spawn, Terrain, Tick, Timed, Tuning, When, Workspace,
};

/// All that a terrain can be asked about.
pub const EVERYWHERE: (DVec3, DVec3) = (DVec3::NEG_INFINITY, DVec3::INFINITY);

/// A fifth of so many cases, so that all tests take minutes; all of them where `NEWEL_TESTS` is `full`.
pub fn sample(cases: u64) -> u64 {
    if std::env::var("NEWEL_TESTS").is_ok_and(|tests| tests == "full") { cases } else { cases.div_ceil(5) }
}

/// Triangles being put together.
#[derive(Clone, Default)]
pub struct World {
    pub corners: Vec<[f64; 3]>,
    pub indices: Vec<u32>,
}

impl World {
    pub fn new() -> World {
        World::default()
    }

    pub fn triangle(mut self, a: DVec3, b: DVec3, c: DVec3) -> World {
        let first = self.corners.len() as u32;
        self.corners.extend([a, b, c].map(|p| p.to_array()));
        self.indices.extend([first, first + 1, first + 2]);
        self
    }

    pub fn quad(self, a: DVec3, b: DVec3, c: DVec3, d: DVec3) -> World {
        self.triangle(a, b, c).triangle(a, c, d)
    }

    /// This world and another.
    pub fn and(mut self, other: World) -> World {
        let first = self.corners.len() as u32;
        self.corners.extend(other.corners);
        self.indices.extend(other.indices.iter().map(|i| i + first));
        self
    }

    /// A level square of side `2 * half` about the origin at `height`.
    pub fn floor(self, half: f64, height: f64) -> World {
        let p = |x: f64, z: f64| DVec3::new(x, height, z);
        self.quad(p(-half, -half), p(-half, half), p(half, half), p(half, -half))
    }

    /// A plane through `at` with the given normal, `half` metres each way.
    pub fn plane(self, at: DVec3, normal: DVec3, half: f64) -> World {
        let n = normal / normal.length();
        let aside = if n.x.abs() < 0.9 { DVec3::X } else { DVec3::Z };
        let u = n.cross(aside);
        let u = u / u.length() * half;
        let v = n.cross(u);
        self.quad(at - u - v, at + u - v, at + u + v, at - u + v)
    }

    /// A solid box.
    pub fn block(self, min: [f64; 3], max: [f64; 3]) -> World {
        let p = |x: usize, y: usize, z: usize| DVec3::new([min, max][x][0], [min, max][y][1], [min, max][z][2]);
        self.quad(p(0, 0, 0), p(1, 0, 0), p(1, 0, 1), p(0, 0, 1))
            .quad(p(0, 1, 0), p(0, 1, 1), p(1, 1, 1), p(1, 1, 0))
            .quad(p(0, 0, 0), p(0, 0, 1), p(0, 1, 1), p(0, 1, 0))
            .quad(p(1, 0, 0), p(1, 1, 0), p(1, 1, 1), p(1, 0, 1))
            .quad(p(0, 0, 0), p(0, 1, 0), p(1, 1, 0), p(1, 0, 0))
            .quad(p(0, 0, 1), p(1, 0, 1), p(1, 1, 1), p(0, 1, 1))
    }

    /// `count` stairs up along +x from `x`, each `rise` high and `tread` deep, `2 * half` wide.
    pub fn stairs(mut self, x: f64, rise: f64, tread: f64, count: usize, half: f64) -> World {
        for i in 0..count {
            let left = x + tread * i as f64;
            let right = x + tread * count as f64;
            let (low, high) = (rise * i as f64, rise * (i + 1) as f64);
            self = self.block([left, low, -half], [right, high, half]);
        }
        self
    }

    /// The same world with every corner moved.
    pub fn mapped(mut self, map: impl Fn(DVec3) -> DVec3) -> World {
        for corner in &mut self.corners {
            *corner = map(DVec3::from_array(*corner)).to_array();
        }
        self
    }

    pub fn mesh(&self) -> Mesh {
        Mesh::new(&self.corners, &self.indices).expect("a test world")
    }

    /// How far the character's inner segment is from the nearest triangle, in double precision.
    pub fn clearance(&self, hero: &Character, tuning: &Tuning) -> f64 {
        let size = tuning.shape_in(hero.stance);
        let low = hero.position + hero.up.as_dvec3() * f64::from(size.radius);
        let high = low + hero.axis.as_dvec3() * f64::from(size.height - 2.0 * size.radius);
        self.clearance_of(low, high)
    }

    /// The same for the segment between two points.
    pub fn clearance_of(&self, low: DVec3, high: DVec3) -> f64 {
        let corner = |i: u32| DVec3::from_array(self.corners[i as usize]);
        // Beyond a metre nobody asks how far it is.
        let (min, max) = (low.min(high) - DVec3::ONE, low.max(high) + DVec3::ONE);
        let near = |t: &[DVec3; 3]| {
            let (least, most) = (t[0].min(t[1]).min(t[2]), t[0].max(t[1]).max(t[2]));
            least.cmple(max).all() && most.cmpge(min).all()
        };
        let triangles = self.indices.chunks_exact(3).map(|t| [corner(t[0]), corner(t[1]), corner(t[2])]);
        triangles.filter(near).map(|t| segment_to_triangle(low, high, t)).fold(f64::INFINITY, f64::min)
    }

    /// The gap between the tuned surface and the nearest triangle, in double precision.
    pub fn gap(&self, hero: &Character, tuning: &Tuning) -> f64 {
        self.clearance(hero, tuning) - f64::from(tuning.shape_in(hero.stance).radius)
    }
}

/// A mesh that does not say that it never changes: every tick asks it, also those of a character at rest.
pub struct Silent<'a>(pub &'a Mesh);

impl Terrain for Silent<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.0.gather(when, patch);
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.0.cast(when, from, along, length)
    }
}

thread_local! {
    /// How the worlds of this test are turned, gravity and all.
    static FRAME: Cell<DQuat> = const { Cell::new(DQuat::IDENTITY) };
}

/// Has what follows happen upright, with gravity along +x, and along an oblique axis: the worlds of a [`Walk`] are turned,
/// what is wanted of it is turned with them, and what is read off it is turned back.
pub fn every_frame() -> impl Iterator<Item = usize> {
    let sideways = DQuat::from_rotation_arc(DVec3::Y, DVec3::NEG_X);
    let oblique = DQuat::from_axis_angle(DVec3::new(2.0, -1.0, 3.0).normalize(), 2.2);
    [DQuat::IDENTITY, sideways, oblique].into_iter().enumerate().map(|(number, frame)| {
        FRAME.set(frame);
        number
    })
}

/// The same, and upside down.
pub fn every_frame_and_upside_down() -> impl Iterator<Item = usize> {
    every_frame().chain(std::iter::once_with(|| {
        FRAME.set(DQuat::from_rotation_x(std::f64::consts::PI));
        3
    }))
}

/// Has what follows happen with gravity along -y, and then along +x, +y, -z and an oblique axis: which of them.
pub fn every_gravity() -> impl Iterator<Item = usize> {
    let downs = [DVec3::NEG_Y, DVec3::X, DVec3::Y, DVec3::NEG_Z, DVec3::new(0.3, -0.5, 0.81).normalize()];
    downs.into_iter().enumerate().map(|(number, down)| {
        // The half turn has no shortest way of its own.
        let upside_down = DQuat::from_rotation_x(std::f64::consts::PI);
        FRAME.set(if down == DVec3::Y { upside_down } else { DQuat::from_rotation_arc(DVec3::NEG_Y, down) });
        number
    })
}

/// A character being stepped through a world.
pub struct Walk {
    /// The world as it is, turned.
    pub world: World,
    pub mesh: Mesh,
    pub tuning: Tuning,
    pub modifiers: Modifiers,
    /// The character as it would be in the upright world.
    pub hero: Character,
    /// The character as it is.
    pub real: Character,
    frame: DQuat,
    /// What happened so far, but for footsteps.
    pub events: Vec<Event>,
    pub footsteps: Vec<Event>,
    /// What the last tick told.
    pub readout: Option<Readout>,
    /// What the next tick is to do first.
    pub commands: Vec<Command>,
    pub number: u64,
    pub work: Workspace,
}

impl Walk {
    pub fn new(world: World, tuning: Tuning, at: [f64; 3]) -> Walk {
        Walk::try_new(world, tuning, at).expect("a clear place")
    }

    /// The same, or nothing where the place is not clear.
    pub fn try_new(world: World, tuning: Tuning, at: [f64; 3]) -> Option<Walk> {
        let frame = FRAME.get();
        let world = world.mapped(|p| frame * p);
        let mesh = world.mesh();
        let spawn = Spawn::at(frame * DVec3::from_array(at)).up((frame * DVec3::Y).as_vec3());
        let real = Character::spawn(&mesh, &tuning, spawn.facing((frame * DVec3::NEG_Z).as_vec3())).ok()?;
        Some(Walk {
            world,
            mesh,
            tuning,
            modifiers: Modifiers::default(),
            hero: upright(&real, frame),
            real,
            frame,
            events: Vec::new(),
            footsteps: Vec::new(),
            readout: None,
            commands: Vec::new(),
            number: 0,
            work: Workspace::new(),
        })
    }

    /// One tick of `dt` seconds.
    pub fn tick(&mut self, dt: f64, intent: Intent) {
        let terrain = Silent(&self.mesh);
        let tick =
            Tick { number: self.number, terrain: &terrain, tuning: &self.tuning, modifiers: &self.modifiers, dt };
        let intent = turned(&intent, self.frame);
        let commands: Vec<_> = self.commands.drain(..).map(|c| commanded(c, self.frame)).collect();
        let outcome = tick.step(&mut self.work, &mut self.real, &intent, &commands).expect("a valid tick");
        let in_order = outcome.events.windows(2).all(|pair| pair[0].time <= pair[1].time);
        assert!(in_order, "events out of order: {:?}", outcome.events);
        let back = self.frame.conjugate();
        let upright = |e: &Event| Event { place: back * e.place, velocity: back * e.velocity, ..*e };
        self.events.extend(outcome.events.iter().map(upright).filter(is_no_footstep));
        self.footsteps.extend(outcome.events.iter().map(upright).filter(|e| !is_no_footstep(e)));
        self.readout = Some(outcome.readout);
        self.hero = self::upright(&self.real, self.frame);
        self.number += 1;
    }

    /// Ticks of `dt` for `seconds`, all with the same intent.
    pub fn go(&mut self, dt: f64, seconds: f64, intent: Intent) {
        for _ in 0..(seconds / dt).round() as u64 {
            self.tick(dt, intent);
        }
    }

    /// Ticks of `dt` from now to `end` seconds of the character's clock, with what the script says.
    pub fn play(&mut self, script: &script::Script, dt: f64, end: f64) {
        while self.hero.clock < end - 1e-9 {
            let now = self.hero.clock;
            let dt = dt.min(end - now);
            self.tick(dt, script.intent(now, dt));
        }
    }

    /// The first event of which `is` is true.
    pub fn first(&self, is: impl Fn(&EventKind) -> bool) -> Option<&Event> {
        self.events.iter().find(|e| is(&e.kind))
    }

    pub fn gap(&self) -> f64 {
        self.world.gap(&self.real, &self.tuning)
    }

    pub fn airborne(&self) -> bool {
        self.hero.mode == Mode::Air
    }
}

/// What is wanted in the upright world, as it is wanted in the turned one.
fn turned(intent: &Intent, frame: DQuat) -> Intent {
    let turn = |v: Vec3| (frame * v.as_dvec3()).as_vec3();
    let heading = |heading| match heading {
        Heading::World(v) => Heading::World(turn(v)),
        Heading::To { place, speed } => Heading::To { place: frame * place, speed },
        stick => stick,
    };
    let face = |face| match face {
        Face::Point(place) => Face::Point(frame * place),
        other => other,
    };
    let mut start = Intent::new(heading(intent.heading)).looking(turn(intent.view)).facing(face(intent.face));
    (start.buttons, start.stance, start.guard) = (intent.buttons, intent.stance, intent.guard);
    intent.changes().fold(start, |so_far, Timed { at, change }| {
        let change = match change {
            Change::Heading(h) => Change::Heading(heading(h)),
            Change::View(v) => Change::View(turn(v)),
            Change::Face(f) => Change::Face(face(f)),
            button => button,
        };
        so_far.then(Timed { at, change }).expect("as many as before")
    })
}

/// What is commanded in the upright world, as it is in the turned one.
fn commanded(command: Command, frame: DQuat) -> Command {
    match command {
        Command::Launch(launch) => {
            let along_world = launch.axes == Axes::World;
            let velocity = if along_world { frame * launch.velocity } else { launch.velocity };
            Command::Launch(Launch { velocity, ..launch })
        }
        Command::Displace { by } => Command::Displace { by: frame * by },
        Command::Gravity { pull } => Command::Gravity { pull: (frame * pull.as_dvec3()).as_vec3() },
        Command::Teleport { to, facing } => Command::Teleport { to: frame * to, facing },
        other => other,
    }
}

/// What a character in a turned world would be in the upright one.
fn upright(real: &Character, frame: DQuat) -> Character {
    if frame == DQuat::IDENTITY {
        return real.clone();
    }
    let back = frame.conjugate();
    let turned = |v: Vec3| (back * v.as_dvec3()).as_vec3();
    let mut hero = real.clone();
    (hero.position, hero.velocity) = (back * real.position, back * real.velocity);
    (hero.up, hero.axis, hero.facing) = (turned(real.up), turned(real.axis), turned(real.facing));
    (hero.ground.touch, hero.ground.normal) = (turned(real.ground.touch), turned(real.ground.normal));
    hero
}

/// The six tick rates at which motion must be the same.
pub const SIX_RATES: [f64; 6] = [15.0, 30.0, 60.0, 144.0, 240.0, 1000.0];

/// Shorthand for a heading along +x.
pub fn east() -> Intent {
    Intent::toward(Vec3::X)
}

/// Feet come down wherever one walks; most tests ask for what else happens.
pub fn is_no_footstep(event: &Event) -> bool {
    !matches!(event.kind, EventKind::Footstep { .. })
}
