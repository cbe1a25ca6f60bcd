//! Lands to measure ticks on, and characters at sites all over them.

use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Climb, Effect, Hold, Hover, Intent, Mesh, Mode, Modifiers, Patch, RayHit, Round, Slide, Swell,
    Terrain, Tick, Tuning, TuningValues, Water, When, Workspace, Zone,
};
use parry3d::math::{Pose, Vector};
use parry3d::query::{Ray, RayCast, ShapeCastOptions};
use parry3d::shape::{Capsule, TriMesh};

/// Activity of the measured characters.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Doing {
    /// Over rolling land at full speed.
    Walking,
    /// Standing on it, as on terrain that may change at any time.
    Idle,
    /// Standing on it, as on terrain that says it does not change.
    Resting,
    /// A hand's breadth over it, falling.
    Falling,
    /// Into a wall of three metres, slantwise.
    AgainstWall,
    /// Into a step of a quarter of a metre, slantwise.
    AgainstStep,
    /// Through two dozen round obstacles.
    Crowded,
    /// Just over the ground, under a swell, with strokes and a current.
    Swimming,
    /// At its height over rolling land.
    Hovering,
    /// Over rolling land, as if it were ice.
    Sliding,
    /// Up a wall of three metres, slantwise.
    Climbing,
}

impl Doing {
    /// All of them.
    pub const ALL: [Doing; 11] = [
        Doing::Walking,
        Doing::Idle,
        Doing::Resting,
        Doing::Falling,
        Doing::AgainstWall,
        Doing::AgainstStep,
        Doing::Crowded,
        Doing::Swimming,
        Doing::Hovering,
        Doing::Sliding,
        Doing::Climbing,
    ];

    /// Name in tables.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Doing::Walking => "walking",
            Doing::Idle => "idle",
            Doing::Resting => "idle, unchanging",
            Doing::Falling => "falling",
            Doing::AgainstWall => "against a wall",
            Doing::AgainstStep => "against a step",
            Doing::Crowded => "in a crowd",
            Doing::Swimming => "swimming",
            Doing::Hovering => "hovering",
            Doing::Sliding => "sliding",
            Doing::Climbing => "climbing",
        }
    }

    /// Who does it: a walker, with what it takes.
    ///
    /// # Panics
    /// Never: the numbers are the usual ones.
    #[must_use]
    pub fn tuning(self) -> Tuning {
        let walker = *Tuning::walker().values();
        let values = match self {
            Doing::Hovering => TuningValues { hover: Some(Hover::default()), ..walker },
            Doing::Sliding => {
                let slide = Slide { from: 1.0, ends_below: 0.5, deceleration: 0.0, ..Slide::default() };
                TuningValues { slide: Some(slide), ..walker }
            }
            Doing::Climbing => TuningValues { climb: Some(Climb::default()), ..walker },
            _ => walker,
        };
        Tuning::new(values).expect("a tuning")
    }

    fn rise(self) -> f32 {
        match self {
            Doing::AgainstWall | Doing::Climbing => 3.0,
            Doing::AgainstStep => 0.25,
            _ => 0.0,
        }
    }
}

/// Rolling land of square cells of half a metre, `side` a side; for walls and steps, terraces by turns low and high, seven
/// cells wide, with upright walls between. The same triangles are held by newel and by the general geometry crate.
pub struct Land {
    doing: Doing,
    side: usize,
    mesh: Mesh,
    foreign: TriMesh,
}

const CELL: f32 = 0.5;
/// Others in a crowd, and how far away the furthest.
const OTHERS: usize = 24;
const CROWD: f32 = 3.0;

impl Land {
    /// Land for what is to be measured.
    ///
    /// # Panics
    /// Never: the land is a mesh.
    #[must_use]
    pub fn new(side: usize, doing: Doing) -> Land {
        Land::of(side, doing, wave)
    }

    /// Level land of as many cells, for walks.
    #[must_use]
    pub fn level(side: usize) -> Land {
        Land::of(side, Doing::Walking, |_, _| 0.0)
    }

    fn of(side: usize, doing: Doing, height: impl Fn(f32, f32) -> f32) -> Land {
        let rise = doing.rise();
        let mut corners = Vec::new();
        for k in 0..=side {
            for i in 0..=side {
                // A wall is one column of cells all but upright.
                let off = if rise > 0.0 && i % 8 == 0 { -CELL + 1e-3 } else { 0.0 };
                let lift = if i / 8 % 2 == 1 { rise } else { 0.0 };
                let (x, z) = (i as f32 * CELL + off, k as f32 * CELL);
                corners.push([x, lift + if rise > 0.0 { 0.02 * (z * 0.7).sin() } else { height(x, z) }, z]);
            }
        }
        let mut triangles = Vec::new();
        for k in 0..side {
            for i in 0..side {
                let a = (k * (side + 1) + i) as u32;
                let (b, c, d) = (a + side as u32 + 1, a + side as u32 + 2, a + 1);
                triangles.extend([[a, b, c], [a, c, d]]);
            }
        }
        let mesh = Mesh::new(&corners, triangles.as_flattened()).expect("a mesh");
        let mesh = if doing == Doing::Climbing { mesh.with_hold(0, Hold::Wall) } else { mesh };
        let points = corners.iter().map(|c| Vector::new(c[0], c[1], c[2])).collect();
        let foreign = TriMesh::new(points, triangles).expect("a mesh");
        Land { doing, side, mesh, foreign }
    }

    /// Activity on it.
    #[must_use]
    pub fn doing(&self) -> Doing {
        self.doing
    }

    /// Its mesh, which says that it does not change.
    #[must_use]
    pub fn mesh(&self) -> &Mesh {
        &self.mesh
    }

    /// How many triangles it has.
    #[must_use]
    pub fn triangles(&self) -> usize {
        self.mesh.triangles()
    }

    /// A tick of a 60th of a second on it.
    #[must_use]
    pub fn tick<'a>(&'a self, tuning: &'a Tuning, modifiers: &'a Modifiers) -> Tick<'a> {
        Tick { number: 0, terrain: self, tuning, modifiers, dt: 1.0 / 60.0 }
    }

    /// The width of the land, metres.
    #[must_use]
    pub fn width(&self) -> f64 {
        f64::from(CELL) * self.side as f64
    }

    /// A character at a random site, about to do what is to be measured; `None` where there is no room.
    #[must_use]
    pub fn site(&self, n: usize, tuning: &Tuning) -> Option<(Character, Intent)> {
        let span = self.width() - 4.0;
        let mut at = DVec3::new(2.0 + unit(n, 1) * span, 4.0, 2.0 + unit(n, 2) * span);
        let mut angle = unit(n, 3) * std::f64::consts::TAU;
        if self.doing.rise() > 0.0 {
            // A little before the next wall up, heading into it at up to 60 degrees.
            at.x = (at.x / 8.0).floor() * 8.0 + 3.5 - 0.35;
            angle = (unit(n, 3) - 0.5) * 2.0;
        }
        let mut hero = Character::spawn(&self.mesh, tuning, at).ok()?;
        let heading = Intent::toward(Vec3::new(angle.cos() as f32, 0.0, angle.sin() as f32));
        let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
        let tick = Tick { terrain: &self.mesh, ..self.tick(tuning, &modifiers) };
        let mut step = |hero: &mut Character, intent: &Intent, ticks: usize| {
            (0..ticks).for_each(|_| drop(tick.step(&mut work, hero, intent, &[])));
        };
        step(&mut hero, &Intent::default(), 90);
        match self.doing {
            Doing::Idle | Doing::Resting => {
                // It has stood on this very terrain for a moment.
                let tick = self.tick(tuning, &modifiers);
                (0..2).for_each(|_| drop(tick.step(&mut Workspace::new(), &mut hero, &Intent::default(), &[])));
                return Some((hero, Intent::default()));
            }
            Doing::Falling => {
                hero.position.y += 0.1;
                hero.velocity = DVec3::new(angle.cos(), -3.0, angle.sin());
                hero.mode = Mode::Air;
            }
            Doing::Swimming => {
                // Just over the ground, in swells that reach the whole of it.
                hero.position.y += 0.1;
                step(&mut hero, &heading, 12);
            }
            Doing::AgainstWall | Doing::AgainstStep => step(&mut hero, &heading, 6),
            Doing::Walking | Doing::Crowded => step(&mut hero, &heading, 12),
            Doing::Hovering | Doing::Sliding => {
                let button = if self.doing == Doing::Hovering { Button::Hover } else { Button::Slide };
                step(&mut hero, &heading, 30);
                step(&mut hero, &heading.hold(button), 6);
                return Some((hero, heading.hold(button)));
            }
            Doing::Climbing => {
                step(&mut hero, &heading, 30);
                return (hero.mode == Mode::Climb).then_some((hero, heading));
            }
        }
        Some((hero, heading))
    }

    /// One ray of the general geometry crate, from a metre over the feet two metres down.
    #[must_use]
    pub fn ray(&self, hero: &Character) -> Option<f32> {
        let from = (hero.position + DVec3::Y).as_vec3();
        let ray = Ray::new(Vector::new(from.x, from.y, from.z), Vector::new(0.0, -1.0, 0.0));
        self.foreign.cast_local_ray(&ray, 2.0, true)
    }

    /// One capsule cast of the general geometry crate, half a metre down from a tenth over the feet.
    #[must_use]
    pub fn capsule(&self, hero: &Character) -> Option<f32> {
        let feet = (hero.position + DVec3::Y * 0.1).as_vec3();
        let capsule = Capsule::new_y(0.6, 0.3);
        let place = Pose::from_translation(Vector::new(feet.x, feet.y + 0.9, feet.z));
        let down = Vector::new(0.0, -1.0, 0.0);
        let options = ShapeCastOptions::with_max_time_of_impact(0.5);
        let still = Vector::ZERO;
        let hit = parry3d::query::cast_shapes(&place, down, &capsule, &Pose::IDENTITY, still, &self.foreign, options);
        hit.ok().flatten().map(|hit| hit.time_of_impact)
    }
}

impl Terrain for Land {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.mesh.gather(when, patch);
        if self.doing == Doing::Swimming {
            let swell = Swell { along: Vec3::X, height: 0.2, length: 9.0, period: 2.5, since: 0.0 };
            let water = Water::flat(DVec3::Y * 40.0, Vec3::Y).flowing(Vec3::Z * 0.2).with_swell(swell);
            let (min, max) = (DVec3::splat(-1e5), DVec3::splat(1e5));
            patch.add_zone(Zone::new(1, min, max, Effect::Water(water)));
        }
        if self.doing != Doing::Crowded {
            return;
        }
        // The others stand about wherever the character is, none nearer than an arm's length.
        for other in 0..OTHERS {
            let angle = other as f32 * 2.4;
            let away = 0.9 + (CROWD - 0.9) * ((other as f32 + 0.5) / OTHERS as f32).sqrt();
            let low = Vec3::new(angle.cos() * away, 0.3, angle.sin() * away);
            let high = low + Vec3::Y * 1.2;
            patch.add_round(Round { a: low, b: high, radius: 0.3, surface: 0, body: 0, id: other as u32 });
        }
    }

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        self.mesh.stamp(when, within).filter(|_| self.doing == Doing::Resting)
    }

    fn hold(&self, surface: u16) -> Hold {
        self.mesh.hold(surface)
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.mesh.cast(when, from, along, length)
    }
}

fn wave(x: f32, z: f32) -> f32 {
    0.5 * (x * 0.31).sin() * (z * 0.23).cos() + 0.11 * (x * 1.7 + z).sin()
}

/// A number between 0 and 1 that depends on nothing but its arguments.
#[must_use]
pub fn unit(n: usize, salt: u64) -> f64 {
    let mut h = (n as u64 + 1).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ salt.wrapping_mul(0xD6E8_FEB8_6659_FD93);
    h = (h ^ (h >> 31)).wrapping_mul(0x94D0_49BB_1331_11EB);
    ((h ^ (h >> 29)) >> 11) as f64 / (1u64 << 53) as f64
}
