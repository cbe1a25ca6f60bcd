//! A whole scene: meshes that stand still, bodies that come, move and go, zones and sensors.

mod bodies;
mod error;
mod moving;
mod solid;

pub use error::SceneError;
pub use solid::Solid;

use self::bodies::{Bodies, Near};
use glam::{DVec3, Vec3};

use super::footing::Said;
use super::{
    Body, Effect, Footing, Hold, Layers, Mesh, Patch, RayHit, Round, Sensor, Terrain, Timetable, Track, Water, Waves,
    When, Wind, Zone,
};
use crate::fingerprint::Fingerprint;
use crate::moment::Moment;

/// Meshes that stand still, and bodies with names: they move along [`Track`]s, or as the game says, and come and go while it runs.
///
/// Time in the scene is `time + number * dt` of the tick asking, so that a [`Runner`](crate::Runner) sees it pass by
/// itself. A game whose ticks differ in length sets [`Scene::time`] before each and leaves their number at 0.
///
/// ```
/// use newel::glam::DVec3;
/// use newel::{Ending, Intent, Key, Mesh, Runner, Scene, Track, Tuning};
/// let plate = [[-1.0, 0.0, -1.0], [1.0, 0.0, -1.0], [1.0, 0.0, 1.0], [-1.0, 0.0, 1.0f32]];
/// let plate = Mesh::new(&plate, &[0, 2, 1, 0, 3, 2])?;
/// let up = Track::new(vec![Key::at(0.0, DVec3::ZERO), Key::at(2.0, DVec3::Y * 3.0)], Ending::Back)?;
/// let scene = Scene::new().with_moving(7, plate, up);
/// let tuning = Tuning::walker();
/// let mut hero = Runner::spawn(&scene, &tuning, [0.0, 0.0, 0.0])?;
/// for _frame in 0..60 {
///     hero.advance(1.0 / 60.0, &scene, &tuning, |_| Intent::default(), |_| {})?;
/// }
/// assert!((hero.character.position.y - 1.5).abs() < 1e-6, "a second's ride");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct Scene {
    /// The time in the scene at tick number 0, seconds.
    pub time: f64,
    meshes: Vec<(Mesh, Layers)>,
    bodies: Bodies,
    poles: Vec<Pole>,
    zones: Vec<Zone>,
    /// Water that moves with a body, by that body's name.
    carried: Vec<(u64, Zone)>,
    /// Sensors, and the name of the body that each is on; 0 for the world.
    sensors: Vec<(u64, Sensor)>,
    waves: Vec<(u64, Wave)>,
    footings: Said<Footing>,
    holds: Said<Hold>,
    /// Surfaces that it has been told are passed from below.
    one_way: Vec<u16>,
    /// Hash of everything but the bodies, as given.
    laid_down: u64,
}

/// How high a surface is over its still level, by place and time.
type Wave = fn(DVec3, f64) -> f64;

/// A round that stands still.
#[derive(Clone, Copy, Debug)]
struct Pole {
    from: DVec3,
    to: DVec3,
    radius: f32,
    surface: u16,
}

/// Moments of a tick at which a turning body is looked at to see what it may meet.
const LOOKS: u32 = 4;

impl Scene {
    /// One with nothing in it.
    #[must_use]
    pub fn new() -> Scene {
        Scene::default()
    }

    /// The same with a mesh that stands still.
    #[must_use]
    pub fn with(self, mesh: Mesh) -> Scene {
        self.with_on(Layers::FIRST, mesh)
    }

    /// The same with a mesh that stands still, for whoever touches these layers.
    #[must_use]
    pub fn with_on(mut self, layers: Layers, mesh: Mesh) -> Scene {
        self.lay_down(&(mesh.print(), layers));
        self.meshes.push((mesh, layers));
        self
    }

    /// The same with a body of this name, whose mesh is about its own origin and moves along a track. Names tell bodies
    /// apart: it takes the place of any so named before; 0 is the world's, and a body so named carries nobody.
    #[must_use]
    pub fn with_moving(mut self, id: u64, mesh: Mesh, track: Track) -> Scene {
        self.bodies.put_on_track(id, Solid::mesh(mesh), track);
        self
    }

    /// The same with a sensor, which stands still or is on the body with this name, and then in that body's axes; 0 for the world.
    #[must_use]
    pub fn with_sensor(mut self, body: u64, sensor: Sensor) -> Scene {
        self.add_sensor(body, sensor);
        self
    }

    /// The same with a volume that has an effect. One that makes no sense has none: [`Scene::add_zone`] tells.
    #[must_use]
    pub fn with_zone(mut self, zone: Zone) -> Scene {
        self.lay_down(&zone);
        self.zones.push(zone);
        self
    }

    /// The same with a volume of water in the axes of a body with this name, which it moves with: a tub on a lift.
    #[must_use]
    pub fn with_zone_on(mut self, body: u64, zone: Zone) -> Scene {
        self.lay_down(&(body, zone));
        self.carried.push((body, zone));
        self
    }

    /// The same with how the water of a zone waves that has [`Waves::Own`]: how high it is over its still level, metres, at a place and a
    /// time in the scene.
    #[must_use]
    pub fn with_waves(mut self, zone: u64, wave: fn(DVec3, f64) -> f64) -> Scene {
        self.lay_down(&zone);
        self.waves.push((zone, wave));
        self
    }

    /// The same with what walking is like on a surface, whatever its meshes say.
    #[must_use]
    pub fn with_footing(mut self, surface: u16, footing: Footing) -> Scene {
        self.lay_down(&(surface, footing));
        self.footings.set(surface, footing);
        self
    }

    /// The same with a surface, of every mesh it has by now, passed from below and stood on from above.
    #[must_use]
    pub fn with_one_way(mut self, surface: u16) -> Scene {
        let meshes = core::mem::take(&mut self.meshes).into_iter();
        self.meshes = meshes.map(|(mesh, layers)| (mesh.with_one_way(surface), layers)).collect();
        self.bodies.pass_from_below(surface);
        self.lay_down(&surface);
        self.one_way.push(surface);
        self
    }

    /// The same with what a surface gives to hold on to, whatever its meshes say.
    #[must_use]
    pub fn with_hold(mut self, surface: u16, hold: Hold) -> Scene {
        self.lay_down(&(surface, hold));
        self.holds.set(surface, hold);
        self
    }

    /// The same with a round pole, or a rope drawn taut, that stands still: all within `radius` of the way between two places.
    #[must_use]
    pub fn with_pole(mut self, from: DVec3, to: DVec3, radius: f32, surface: u16) -> Scene {
        let pole = Pole { from, to, radius, surface };
        self.lay_down(&pole);
        self.poles.push(pole);
        self
    }

    /// The corners of every triangle in the world at a time, with its surface: for drawing and checking.
    pub fn corners(&self, time: f64) -> impl Iterator<Item = ([DVec3; 3], u16)> + '_ {
        self.corners_that_stay().chain(self.corners_of_bodies(time))
    }

    /// True for a surface that is passed from below, which may be in a character for a while.
    #[must_use]
    pub fn is_one_way(&self, surface: u16) -> bool {
        self.one_way.contains(&surface)
    }

    /// Those of `corners` that are where they are at any time.
    pub fn corners_that_stay(&self) -> impl Iterator<Item = ([DVec3; 3], u16)> + '_ {
        self.meshes.iter().flat_map(|(mesh, _)| mesh.corners())
    }

    /// Those of `corners` that belong to bodies, where they are at a time.
    pub fn corners_of_bodies(&self, time: f64) -> impl Iterator<Item = ([DVec3; 3], u16)> + '_ {
        let bodies = self.bodies.iter();
        let solid =
            bodies.filter_map(move |named| Some((named.body(When::tick(0, 0.0), time), named.solid.as_mesh()?)));
        solid.flat_map(|(body, mesh)| {
            mesh.corners().map(move |(corners, surface)| (corners.map(|c| body.to_world(c)), surface))
        })
    }

    /// Its sensors, as they were given, each with the body that it is on: for drawing.
    #[must_use]
    pub fn sensors_given(&self) -> &[(u64, Sensor)] {
        &self.sensors
    }

    /// Its zones, as they were given: for drawing.
    #[must_use]
    pub fn zones(&self) -> &[Zone] {
        &self.zones
    }

    /// True where something in it has a track.
    #[must_use]
    pub fn is_moving(&self) -> bool {
        self.bodies.has_tracks()
    }

    /// How many triangles it holds.
    #[must_use]
    pub fn triangles(&self) -> usize {
        let bodies = self.bodies.iter().filter_map(|named| named.solid.as_mesh());
        self.meshes.iter().map(|(mesh, _)| mesh).chain(bodies).map(Mesh::triangles).sum()
    }

    /// Adds water that moves with a body, if any of it can come into the patch.
    fn gather_carried(&self, id: u64, zone: &Zone, when: When, patch: &mut Patch) {
        let Some(body) = self.bodies.named(id).map(|named| named.body(when, self.start(when))) else { return };
        let (low, high) = reach(&body, when.span, patch.world_bounds());
        if zone.min.cmple(high).all() && zone.max.cmpge(low).all() {
            let known = patch.body_named(id).map(|(index, _)| index);
            let index = known.unwrap_or_else(|| patch.add_body(body));
            patch.add_zone(Zone { body: index, ..*zone });
        }
    }

    /// Every mesh in it, for what they say of their surfaces.
    fn all_meshes(&self) -> impl Iterator<Item = &Mesh> {
        let bodies = self.bodies.iter().filter_map(|named| named.solid.as_mesh());
        self.meshes.iter().map(|(mesh, _)| mesh).chain(bodies)
    }

    /// The time in the scene when a stretch of time begins: in whole units, so that it is the same whatever tick it is told from.
    fn start(&self, when: When) -> f64 {
        Moment::at(self.time + when.number as f64 * when.dt + when.from).clock()
    }

    /// Something in it is another from now on: what its answers are for all time has changed.
    fn lay_down(&mut self, what: &impl core::fmt::Debug) {
        let mut print = Fingerprint::new();
        print.u64(self.laid_down);
        format!("{what:?}").bytes().for_each(|byte| print.u64(u64::from(byte)));
        self.laid_down = print.value();
    }

    /// The bodies that can reach into a box, or carry water into it.
    fn bodies_near(&self, when: When, within: (DVec3, DVec3)) -> Near {
        let reach = |zone: &Zone| zone.min.abs().max(zone.max.abs()).length();
        self.bodies.near(when, within, self.carried.iter().map(|(id, zone)| (*id, reach(zone))))
    }

    /// The stamp of a box with these bodies near it, for one querier.
    fn print(&self, when: When, near: Near) -> u64 {
        let mut print = Fingerprint::new();
        [self.laid_down, near.print, when.who.id, u64::from(when.who.touches.0)].iter().for_each(|x| print.u64(*x));
        print.value()
    }
}

/// The zone as it is at a time of the scene.
fn at_time(mut zone: Zone, time: f64) -> Zone {
    match &mut zone.effect {
        Effect::Wind(Wind { gusts: Some(gusts), .. }) => gusts.since += time,
        Effect::Water(Water { waves: Waves::Swells(swells), .. }) => {
            swells.iter_mut().flatten().for_each(|swell| swell.since += time);
        }
        _ => {}
    }
    zone
}

/// True if the effect of a zone depends on time.
fn changes_by_itself(zone: &Zone) -> bool {
    match &zone.effect {
        Effect::Wind(wind) => wind.gusts.is_some(),
        Effect::Water(water) => water.waves != Waves::None,
        _ => false,
    }
}

/// The bounds, in the body's own axes, of all of it that can come into a box of the world during a tick.
fn reach(body: &Body, dt: f64, (min, max): (DVec3, DVec3)) -> (DVec3, DVec3) {
    let (mut low, mut high) = (DVec3::INFINITY, DVec3::NEG_INFINITY);
    let mut most = 0.0f64;
    let mut before = None::<[DVec3; 8]>;
    for look in 0..=LOOKS {
        let pose = body.pose(dt * f64::from(look) / f64::from(LOOKS));
        let corner = |i: usize| {
            let pick = |bit: usize, least: f64, most: f64| if i & bit == 0 { least } else { most };
            let corner = DVec3::new(pick(1, min.x, max.x), pick(2, min.y, max.y), pick(4, min.z, max.z));
            body.to_local(pose.trace_back(corner))
        };
        let corners: [DVec3; 8] = core::array::from_fn(corner);
        for (i, at) in corners.iter().enumerate() {
            (low, high) = (low.min(*at), high.max(*at));
            most = most.max(before.map_or(0.0, |b| (b[i] - *at).length()));
        }
        before = Some(corners);
    }
    // Between two looks no corner strays further than the way between them, as long as it turns by less than a third.
    let spare = if body.is_still() { 0.0 } else { most };
    (low - spare, high + spare)
}

impl Pole {
    /// As the patch about `origin` has it.
    fn round(&self, id: u32, origin: DVec3) -> Round {
        let [a, b] = [self.from, self.to].map(|end| (end - origin).as_vec3());
        Round { a, b, radius: self.radius, surface: self.surface, body: 0, id }
    }
}

impl Terrain for Scene {
    fn gather(&self, when: When, patch: &mut Patch) {
        let start = self.start(when);
        for (mesh, _) in self.meshes.iter().filter(|(_, layers)| when.who.meets(*layers, 0)) {
            mesh.gather(when, patch);
        }
        let (low, high) = patch.world_bounds();
        self.bodies.each_near(low, high, |named| {
            if when.who.meets(named.solid.layers, named.solid.owner) {
                named.solid.gather(&named.body(when, start), when.span, patch);
            }
        });
        for (pole, id) in self.poles.iter().zip(0..) {
            let reach = DVec3::splat(f64::from(pole.radius));
            let (least, most) = (pole.from.min(pole.to) - reach, pole.from.max(pole.to) + reach);
            if least.cmple(high).all() && most.cmpge(low).all() {
                patch.add_round(pole.round(id, patch.origin()));
            }
        }
        let meets = |z: &&Zone| z.min.cmple(high).all() && z.max.cmpge(low).all();
        self.zones.iter().filter(meets).for_each(|zone| patch.add_zone(at_time(*zone, start)));
        for (id, zone) in &self.carried {
            self.gather_carried(*id, &at_time(*zone, start), when, patch);
        }
    }

    fn sensors(&self, when: When, (low, high): (DVec3, DVec3), found: &mut Vec<Sensor>) {
        let start = self.start(when);
        for (on, sensor) in self.sensors.iter().filter(|(_, sensor)| sensor.sees.meets(when.who.on)) {
            if *on == 0 {
                if sensor.min.cmple(high).all() && sensor.max.cmpge(low).all() {
                    found.push(*sensor);
                }
            } else if let Some(named) = self.bodies.named(*on) {
                let body = named.body(when, start);
                let (low, high) = reach(&body, when.span, (low, high));
                if sensor.min.cmple(high).all() && sensor.max.cmpge(low).all() {
                    found.push(Sensor { body, ..*sensor });
                }
            }
        }
    }

    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        let near = self.bodies_near(when, within);
        let (low, high) = within;
        let meets = |zone: &&Zone| zone.min.cmple(high).all() && zone.max.cmpge(low).all();
        let changes = near.has_track || near.is_moved || self.zones.iter().filter(meets).any(changes_by_itself);
        (!changes).then(|| self.print(when, near))
    }

    fn timetable(&self, when: When, within: (DVec3, DVec3)) -> Option<Timetable> {
        let near = self.bodies_near(when, within);
        let time = Some(self.time + when.number as f64 * when.dt);
        (!near.is_moved).then(|| Timetable { stamp: self.print(when, near), time })
    }

    fn footing(&self, surface: u16) -> Footing {
        let own = self.footings.of(surface);
        own.or_else(|| self.all_meshes().find_map(|mesh| mesh.footings.of(surface))).unwrap_or_default()
    }

    fn hold(&self, surface: u16) -> Hold {
        let own = self.holds.of(surface);
        own.or_else(|| self.all_meshes().find_map(|mesh| mesh.holds.of(surface))).unwrap_or_default()
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        let wave = self.waves.iter().find(|(id, _)| *id == zone);
        wave.map_or(0.0, |(_, wave)| wave(place, self.start(when) + t))
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let start = self.start(when);
        let meshes = self.meshes.iter().filter(|(_, layers)| when.who.meets(*layers, 0));
        let still = meshes.filter_map(|(mesh, _)| mesh.cast(when, from, along, length));
        let to = from + along.as_dvec3() * length;
        let near = self.bodies.iter().filter(|named| named.is_near(from.min(to), from.max(to)));
        let near = near.filter(|named| when.who.meets(named.solid.layers, named.solid.owner));
        let moving = near.filter_map(|named| {
            let body = named.body(when, start);
            let ahead = body.to_local(from + along.as_dvec3());
            let from = body.to_local(from);
            let hit = named.solid.cast(when, from, (ahead - from).as_vec3(), length)?;
            let normal = body.to_world(hit.normal.as_dvec3()) - body.place;
            Some(RayHit { normal: normal.as_vec3(), body: body.id, ..hit })
        });
        let hits = still.chain(moving);
        hits.min_by(|a, b| a.distance.total_cmp(&b.distance))
    }
}
