//! Generated land that no test was tuned to: fractal hills, shores, cliffs, terraces, canyons, closed shapes, tilted slabs.

use fastrand::Rng;
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{Effect, Mesh, Pull, Scene, Spawn, Swell, Water, Zone};

use super::heights::{Profile, heights};
use super::parts::{Triangle, between, floor, unit};
use super::shapes::{closed_shape, scree, slabs};

/// The kinds of generated land.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum LandKind {
    /// Several octaves of noise, with slopes through every preset's limit.
    Fractal,
    /// The same with triangles that do not quite meet.
    Unwelded,
    /// The same with holes over a floor.
    Holes,
    /// Hills that come out of water with a swell.
    Shore,
    /// Cliffs of several metres with loose blocks at their feet.
    Cliffs,
    /// Terraces about as high as a step.
    Terraces,
    /// Deep valleys between ridges.
    Canyons,
    /// A closed uneven shape with gravity toward its middle.
    Planet,
    /// A closed uneven shape to which the character clings.
    Clinging,
    /// Tilted slabs run into each other on a floor.
    City,
}

impl LandKind {
    /// Every kind.
    pub const ALL: [LandKind; 10] = [
        LandKind::Fractal,
        LandKind::Unwelded,
        LandKind::Holes,
        LandKind::Shore,
        LandKind::Cliffs,
        LandKind::Terraces,
        LandKind::Canyons,
        LandKind::Planet,
        LandKind::Clinging,
        LandKind::City,
    ];

    /// Its name in tables and files.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            LandKind::Fractal => "fractal",
            LandKind::Unwelded => "unwelded",
            LandKind::Holes => "holes",
            LandKind::Shore => "shore",
            LandKind::Cliffs => "cliffs",
            LandKind::Terraces => "terraces",
            LandKind::Canyons => "canyons",
            LandKind::Planet => "planet",
            LandKind::Clinging => "clinging",
            LandKind::City => "city",
        }
    }

    /// The kind with a name.
    #[must_use]
    pub fn named(name: &str) -> Option<LandKind> {
        LandKind::ALL.into_iter().find(|kind| kind.name() == name)
    }

    /// True where up is another way at every place.
    #[must_use]
    pub fn is_closed(self) -> bool {
        matches!(self, LandKind::Planet | LandKind::Clinging)
    }
}

/// One generated piece of land.
pub struct Land {
    /// Kind of land.
    pub kind: LandKind,
    /// The seed it was made from. The same kind and seed give the same land on every machine.
    pub seed: u64,
    /// The land as terrain.
    pub scene: Scene,
    /// Its triangles, in the order in which they were made.
    pub triangles: Vec<Triangle>,
    /// How far from the middle a player may go, in metres.
    pub extent: f64,
    zones: Vec<Zone>,
}

/// The ground that holes are over is this far below the lowest land, in metres.
const FLOOR: f64 = 4.0;
/// Triangles that do not quite meet miss each other by up to this, in metres.
const CRACK: f64 = 2e-5;

impl Land {
    /// Makes the land of a kind and a seed.
    ///
    /// # Panics
    /// Never: all corners are finite.
    #[must_use]
    pub fn generate(kind: LandKind, seed: u64) -> Land {
        let mut rng = Rng::with_seed(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ kind as u64);
        let (triangles, zones, extent) = match kind {
            LandKind::Planet | LandKind::Clinging => {
                let radius = between(&mut rng, 6.0, 16.0);
                (closed_shape(&mut rng, radius), closed_zones(kind, radius), radius)
            }
            LandKind::City => (slabs(&mut rng), Vec::new(), 22.0),
            _ => hills(kind, &mut rng),
        };
        Land::of(kind, seed, triangles, zones, extent)
    }

    fn of(kind: LandKind, seed: u64, triangles: Vec<Triangle>, zones: Vec<Zone>, extent: f64) -> Land {
        let scene = zones.iter().fold(Scene::new().with(mesh_of(&triangles)), |scene, zone| scene.with_zone(*zone));
        Land { kind, seed, scene, triangles, extent, zones }
    }

    /// The same land with only some of its triangles, by their numbers.
    #[must_use]
    pub fn with_only(&self, triangles: &[usize]) -> Land {
        let kept = triangles.iter().map(|i| self.triangles[*i]).collect();
        Land::of(self.kind, self.seed, kept, self.zones.clone(), self.extent)
    }

    /// The same land turned about the middle of the world.
    #[must_use]
    pub fn turned(&self, turn: DQuat) -> Land {
        let turned = self.triangles.iter().map(|triangle| triangle.map(|corner| turn * corner)).collect();
        Land::of(self.kind, self.seed, turned, self.zones.clone(), self.extent)
    }

    /// A random place to spawn at, on the surface near the middle.
    pub fn spawn(&self, rng: &mut Rng) -> Option<Spawn> {
        let place = |from: DVec3, way: DVec3| {
            let hit = newel::Terrain::cast(&self.scene, newel::When::tick(0, 0.01), from, way.as_vec3(), 1000.0)?;
            Some(from + way * (hit.distance - 0.05))
        };
        if self.kind.is_closed() {
            let up = unit(rng);
            let spawn = Spawn::at(place(up * 100.0, -up)?).up(up.as_vec3());
            return Some(if self.kind == LandKind::Clinging { spawn.clinging() } else { spawn });
        }
        let reach = 0.4 * self.extent;
        let from = DVec3::new(between(rng, -reach, reach), 500.0, between(rng, -reach, reach));
        place(from, DVec3::NEG_Y).map(Spawn::at)
    }
}

/// A mesh of loose triangles.
pub(super) fn mesh_of(triangles: &[Triangle]) -> Mesh {
    let corners: Vec<[f64; 3]> = triangles.as_flattened().iter().map(|c| c.to_array()).collect();
    let indices: Vec<u32> = (0..corners.len() as u32).collect();
    Mesh::new(&corners, &indices).expect("finite corners")
}

/// Land over a grid of heights.
fn hills(kind: LandKind, rng: &mut Rng) -> (Vec<Triangle>, Vec<Zone>, f64) {
    let profile = match kind {
        LandKind::Terraces => Profile::Terraces,
        LandKind::Cliffs => Profile::Cliffs,
        LandKind::Canyons => Profile::Canyons,
        _ => Profile::Hills,
    };
    let cell = 0.3 * (5.0f64 / 0.3).powf(rng.f64());
    let field = heights(profile, cell, rng);
    let mut triangles = field.triangles(rng, if kind == LandKind::Holes { 0.02 } else { 0.0 });
    let extent = 0.4 * field.width();
    let lowest = field.lowest();
    let mut zones = Vec::new();
    match kind {
        LandKind::Unwelded => {
            let mut shift = || DVec3::new(rng.f64() - 0.5, rng.f64() - 0.5, rng.f64() - 0.5) * (2.0 * CRACK);
            triangles.as_flattened_mut().iter_mut().for_each(|corner| *corner += shift());
        }
        LandKind::Holes => triangles.extend(floor(field.width(), lowest - FLOOR)),
        LandKind::Cliffs => triangles.extend(scree(rng, &field)),
        LandKind::Shore => zones.push(sea(field.width(), field.quantile(between(rng, 0.2, 0.5)))),
        _ => {}
    }
    (triangles, zones, extent)
}

fn sea(width: f64, level: f64) -> Zone {
    let swell = Swell { along: Vec3::new(0.6, 0.0, 0.8), height: 0.3, length: 7.0, period: 3.1, since: 0.0 };
    let water = Water::flat(DVec3::Y * level, Vec3::Y).with_swell(swell);
    let (low, high) = (DVec3::new(-width, level - 500.0, -width), DVec3::new(width, level + 1.0, width));
    Zone::new(1, low, high, Effect::Water(water))
}

fn closed_zones(kind: LandKind, radius: f64) -> Vec<Zone> {
    let far = DVec3::splat(20.0 * radius);
    let pull = Effect::Pull(Pull::Point { middle: DVec3::ZERO, strength: 1.0 });
    if kind == LandKind::Planet { vec![Zone::new(1, -far, far, pull)] } else { Vec::new() }
}
