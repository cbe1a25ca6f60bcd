//! A plain list of meshes, some of them on key-framed paths.

use glam::{DVec3, Vec3};

use super::footing::Said;
use super::{
    Body, Effect, Facet, Footing, Hold, Mesh, Patch, RayHit, Round, Terrain, Track, Water, Waves, When, Wind, Zone,
};
use crate::fingerprint::Fingerprint;

/// Meshes that stand still and meshes that move along [`Track`]s.
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
    parts: Vec<Part>,
    poles: Vec<Pole>,
    zones: Vec<Zone>,
    /// Water that moves with a body, by that body's name.
    carried: Vec<(u64, Zone)>,
    waves: Vec<(u64, Wave)>,
    footings: Said<Footing>,
    holds: Said<Hold>,
}

#[derive(Clone, Debug)]
struct Part {
    mesh: Mesh,
    moving: Option<(u64, Track)>,
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
    pub fn with(mut self, mesh: Mesh) -> Scene {
        self.parts.push(Part { mesh, moving: None });
        self
    }

    /// The same with a body of this name, whose mesh is about its own origin and moves along a track. Names tell bodies
    /// apart; 0 is the world's, and a body so named carries nobody.
    #[must_use]
    pub fn with_moving(mut self, id: u64, mesh: Mesh, track: Track) -> Scene {
        self.parts.push(Part { mesh, moving: Some((id, track)) });
        self
    }

    /// The same with a volume that has an effect.
    #[must_use]
    pub fn with_zone(mut self, zone: Zone) -> Scene {
        self.zones.push(zone);
        self
    }

    /// The same with a volume of water in the axes of a body with this name, which it moves with: a tub on a lift.
    #[must_use]
    pub fn with_zone_on(mut self, body: u64, zone: Zone) -> Scene {
        self.carried.push((body, zone));
        self
    }

    /// The same with how the water of a zone waves that has [`Waves::Own`]: how high it is over its still level, metres, at a place and a
    /// time in the scene.
    #[must_use]
    pub fn with_waves(mut self, zone: u64, wave: fn(DVec3, f64) -> f64) -> Scene {
        self.waves.push((zone, wave));
        self
    }

    /// The same with what walking is like on a surface, whatever its meshes say.
    #[must_use]
    pub fn with_footing(mut self, surface: u16, footing: Footing) -> Scene {
        self.footings.set(surface, footing);
        self
    }

    /// The same with what a surface gives to hold on to, whatever its meshes say.
    #[must_use]
    pub fn with_hold(mut self, surface: u16, hold: Hold) -> Scene {
        self.holds.set(surface, hold);
        self
    }

    /// The same with a round pole, or a rope drawn taut, that stands still: all within `radius` of the way between two places.
    #[must_use]
    pub fn with_pole(mut self, from: DVec3, to: DVec3, radius: f32, surface: u16) -> Scene {
        self.poles.push(Pole { from, to, radius, surface });
        self
    }

    /// The corners of every triangle in the world at a time, with its surface: for drawing and checking.
    pub fn corners(&self, time: f64) -> impl Iterator<Item = ([DVec3; 3], u16)> + '_ {
        self.parts.iter().flat_map(move |part| {
            let body = part.body(time, 0.0);
            part.mesh
                .corners()
                .map(move |(corners, surface)| (body.map_or(corners, |b| corners.map(|c| b.to_world(c))), surface))
        })
    }

    /// Its zones, as they were given: for drawing.
    #[must_use]
    pub fn zones(&self) -> &[Zone] {
        &self.zones
    }

    /// True where something in it has a track.
    #[must_use]
    pub fn is_moving(&self) -> bool {
        self.parts.iter().any(|p| p.moving.is_some())
    }

    /// How many triangles it holds.
    #[must_use]
    pub fn triangles(&self) -> usize {
        self.parts.iter().map(|p| p.mesh.triangles()).sum()
    }

    /// Adds water that moves with a body, if any of it can come into the patch.
    fn gather_carried(&self, id: u64, zone: &Zone, when: When, patch: &mut Patch) {
        let bodies = self.parts.iter().filter(|part| part.moving.as_ref().is_some_and(|m| m.0 == id));
        let Some(body) = bodies.filter_map(|part| part.body(self.start(when), when.dt)).next() else { return };
        let (low, high) = reach(&body, when.dt, patch.world_bounds());
        if zone.min.cmple(high).all() && zone.max.cmpge(low).all() {
            let known = patch.body_named(id).map(|(index, _)| index);
            let index = known.unwrap_or_else(|| patch.add_body(body));
            patch.add_zone(Zone { body: index, ..*zone });
        }
    }

    /// The time in the scene when a tick begins.
    fn start(&self, when: When) -> f64 {
        self.time + when.number as f64 * when.dt
    }
}

impl Part {
    /// The body of what moves, for a tick of `dt` seconds from `start` on.
    fn body(&self, start: f64, dt: f64) -> Option<Body> {
        let (id, track) = self.moving.as_ref()?;
        Some(Body::between(*id, track.pose(start), track.pose(start + dt), dt))
    }

    fn gather_moving(&self, body: &Body, dt: f64, patch: &mut Patch) {
        let (low, high) = reach(body, dt, patch.world_bounds());
        let mut index = None;
        let origin = patch.origin();
        self.mesh.each_within(low, high, |corners, surface, id| {
            let index = *index.get_or_insert_with(|| patch.add_body(*body));
            let [a, b, c] = corners.map(|corner| (body.to_world(corner) - origin).as_vec3());
            if let Some(facet) = Facet::new(a, b, c) {
                patch.add_facet(Facet { surface, id, body: index, ..facet });
            }
        });
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
        for part in &self.parts {
            match part.body(start, when.dt) {
                None => part.mesh.gather(when, patch),
                Some(body) => part.gather_moving(&body, when.dt, patch),
            }
        }
        let (low, high) = patch.world_bounds();
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

    fn stamp(&self, when: When) -> Option<u64> {
        if !self.zones.is_empty() || !self.carried.is_empty() {
            return None;
        }
        let mut print = Fingerprint::new();
        for pole in &self.poles {
            [pole.from, pole.to].iter().flat_map(|p| p.to_array()).for_each(|x| print.f64(x));
            print.f32(pole.radius);
            print.u64(u64::from(pole.surface));
        }
        // What stands still has stamps that say so; what has a track may be anywhere.
        for part in &self.parts {
            print.u64(part.mesh.stamp(when).filter(|_| part.moving.is_none())?);
        }
        Some(print.value())
    }

    fn footing(&self, surface: u16) -> Footing {
        let own = self.footings.of(surface);
        own.or_else(|| self.parts.iter().find_map(|p| p.mesh.footings.of(surface))).unwrap_or_default()
    }

    fn hold(&self, surface: u16) -> Hold {
        let own = self.holds.of(surface);
        own.or_else(|| self.parts.iter().find_map(|p| p.mesh.holds.of(surface))).unwrap_or_default()
    }

    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        let wave = self.waves.iter().find(|(id, _)| *id == zone);
        wave.map_or(0.0, |(_, wave)| wave(place, self.start(when) + t))
    }

    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let start = self.start(when);
        let hits = self.parts.iter().filter_map(|part| {
            let Some(body) = part.body(start, 0.0) else { return part.mesh.cast(when, from, along, length) };
            let to = body.to_local(from + along.as_dvec3());
            let from = body.to_local(from);
            let hit = part.mesh.cast(when, from, (to - from).as_vec3(), length)?;
            let normal = body.to_world(hit.normal.as_dvec3()) - body.place;
            Some(RayHit { normal: normal.as_vec3(), body: body.id, ..hit })
        });
        hits.min_by(|a, b| a.distance.total_cmp(&b.distance))
    }
}
