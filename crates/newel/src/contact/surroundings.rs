//! A character among what was gathered for it: where it is, and what it meets when it moves.

use glam::{DVec3, Vec3};

use super::arcs::{Path, smooth_span};
use super::point::{Asked, Contact};
use super::sweep::{Against, Hit, first_hit};
use crate::explain::{Listener, Seen};
use crate::figure::Figure;
use crate::law::Swept;
use crate::plane::Plane;
use crate::region::Region;
use crate::shape::{Cores, Shape};
use crate::terrain::{Body, Footing, OneWay, Patch, RayHit, RoundedBox, Terrain, When};

/// A motion is gathered and swept in pieces of at most this many metres, or of a part of a giant's height.
const CHUNK: f64 = 4.0;
const GIANT_CHUNK: f64 = 0.5;
/// A box that must be gathered again is asked for this much larger on every side, metres.
const SPARE: f32 = 0.25;
/// Positions are kept this close to the patch's origin, metres, so that single precision stays exact; a giant's, whose
/// tolerance is as much larger, within its height.
const NEAR_ORIGIN: f32 = 8.0;

/// A contact whose normal has at least this upward part is left straight up; others along their normal.
const LEAST_SLOPE: f32 = 0.2;
/// No wave is higher than this, metres.
const HIGHEST_WAVE: f64 = 1000.0;
/// How far a ray looks for the walls of what one may be buried in, metres.
const FAR: f64 = 1000.0;

/// The character's shape at a place, and the patch about it.
pub(crate) struct Surroundings<'a> {
    terrain: &'a dyn Terrain,
    when: When,
    pub patch: &'a mut Patch,
    /// The contacts found last; storage reused from tick to tick.
    pub contacts: &'a mut Vec<Contact>,
    pub shape: Shape,
    pub up: Vec3,
    /// From its feet to its head: up, but for a while after that has changed.
    pub axis: Vec3,
    /// The plane that all motion keeps to, if any.
    pub keeps: Plane,
    /// Where the feet are, in the world.
    pub place: DVec3,
    /// The game's own name for the body that carries the character; 0 for none.
    pub ridden: u64,
    /// Seconds into the slice of time that is worked out: bodies are where they are then.
    pub(super) time: f64,
    /// When in the tick that slice begins, seconds.
    pub begins: f64,
    /// The last sweep, until `take` removes it.
    pub swept: Option<Swept>,
    /// The listener to observations.
    pub listener: Listener<'a>,
    /// The query that `contacts` answers.
    pub(super) asked: Option<Asked>,
    /// Counts the gathers, so that an index into the patch can be known to be stale.
    pub gathers: u32,
}

impl<'a> Surroundings<'a> {
    pub fn new(
        terrain: &'a dyn Terrain,
        when: When,
        patch: &'a mut Patch,
        contacts: &'a mut Vec<Contact>,
        figure: Figure,
        place: DVec3,
    ) -> Surroundings<'a> {
        let Figure { shape, up, axis, keeps } = figure;
        patch.one_way = OneWay { up, depth: 4.0 * shape.tolerance(), ..OneWay::default() };
        Surroundings {
            terrain,
            when,
            patch,
            contacts,
            shape,
            up,
            axis,
            keeps,
            place,
            ridden: 0,
            time: 0.0,
            begins: 0.0,
            swept: None,
            asked: None,
            listener: Listener::default(),
            gathers: 0,
        }
    }

    /// Has another shape from now on.
    pub fn wear(&mut self, shape: Shape) {
        if shape != self.shape {
            self.shape = shape;
            self.patch.one_way.depth = 4.0 * shape.tolerance();
            self.asked = None;
        }
    }

    /// Leans another way from now on, with its feet at another place.
    pub fn lean(&mut self, up: Vec3, axis: Vec3, place: DVec3) {
        (self.up, self.axis, self.place) = (up, axis, place);
        self.patch.one_way.up = up;
        self.asked = None;
    }

    /// Which one-way floors are there from now on: those above which it is, all that belong to what it stands on within the skin; or none
    /// while it drops through.
    pub fn pass_one_way(&mut self, drops: bool, stands: bool) {
        let stood_on = stands.then(|| (self.body_index(self.ridden), self.shape.skin()));
        let rule = OneWay { drops, stood_on, ..self.patch.one_way };
        // Where there are none, what touches is the same.
        if self.patch.has_one_way && rule != self.patch.one_way {
            self.asked = None;
        }
        self.patch.one_way = rule;
    }

    /// Gathers the box that reaches `low` and `high` from the feet, afresh.
    pub fn gather(&mut self, low: Vec3, high: Vec3) {
        self.patch.reset(self.place, low, high);
        self.patch.note_asked(Region::between(self.patch.world_bounds()));
        self.terrain.gather(self.when, self.patch);
        self.patch.sort();
        self.patch.take_note();
        self.patch.pose(self.time);
        self.gathers += 1;
        self.tell(|near| {
            let (low, high) = near.patch.world_bounds();
            Seen::Gathered { low, high, facets: near.seen_facets(), rounds: near.patch.rounds.len() }
        });
    }

    /// The terrain.
    pub(super) fn terrain(&self) -> &dyn Terrain {
        self.terrain
    }

    /// The footing of a surface.
    pub fn footing(&self, surface: u16) -> Footing {
        self.terrain.footing(surface).sane()
    }

    /// How high waves lift the surface of a zone's water at a place, metres; nothing where the terrain answers nonsense.
    pub fn wave(&self, zone: u64, place: DVec3, t: f64) -> f64 {
        Some(self.terrain.wave(zone, place, self.when, t)).filter(|lift| lift.abs() <= HIGHEST_WAVE).unwrap_or(0.0)
    }

    /// Seconds into the tick.
    pub fn time(&self) -> f64 {
        self.time
    }

    /// Makes it `time` seconds into the tick: what moves is where it is then.
    pub fn set_time(&mut self, time: f64) {
        self.time = time;
        self.patch.pose(time);
    }

    /// The body with the game's own name, if it is near.
    pub fn body_named(&self, id: u64) -> Option<Body> {
        self.patch.body_named(id).map(|(_, body)| *body)
    }

    /// The patch's own number of the body with the game's name; the world's where it is not near.
    pub fn body_index(&self, id: u64) -> u16 {
        self.patch.body_named(id).map_or(0, |(index, _)| index)
    }

    /// Seconds for which arcs past what turns are right to within a hundredth of the skin.
    pub fn smooth_span(&self, path: &Path) -> f64 {
        smooth_span(&self.cores(), path, self.patch, 0.01 * self.shape.skin())
    }

    /// Gathers again if the box between `low` and `high`, in the patch's coordinates, was not all gathered.
    pub(super) fn ensure(&mut self, low: Vec3, high: Vec3) {
        let (min, max) = self.patch.bounds();
        let near = self.local().abs().max_element() <= NEAR_ORIGIN.max(self.shape.height);
        if near && low.cmpge(min).all() && high.cmple(max).all() {
            return;
        }
        // Keep what was gathered before: going back and forth must not gather back and forth.
        let (low, high) = if near { (low.min(min), high.max(max)) } else { (low, high) };
        let at = self.local();
        let spare = Vec3::splat(SPARE);
        self.gather(low - at - spare, high - at + spare);
    }

    /// The feet in the patch's coordinates.
    pub fn local(&self) -> Vec3 {
        (self.place - self.patch.origin()).as_vec3()
    }

    /// The placed shape in the patch's coordinates.
    pub fn cores(&self) -> Cores {
        self.shape.cores(self.local(), self.up, self.axis, self.keeps.normal)
    }

    /// The shape as it stands.
    pub fn figure(&self) -> Figure {
        Figure { shape: self.shape, up: self.up, axis: self.axis, keeps: self.keeps }
    }

    /// The middle of the character, in the world.
    pub fn middle(&self) -> DVec3 {
        self.figure().middle(self.place)
    }

    /// The box about the character, in the world: its middle and half its sides.
    pub fn bounding_box(&self) -> (DVec3, DVec3) {
        self.figure().bounding_box(self.place)
    }

    /// The bounds of the placed shape, and a little more.
    pub(super) fn shape_bounds(&self, cores: &Cores) -> (Vec3, Vec3) {
        let pad = Vec3::splat(self.shape.rounding() + 8.0 * self.shape.tolerance());
        let (low, high) = cores.bounds();
        (low - pad, high + pad)
    }

    /// The points within `reach` metres of the placed shape, and a little more.
    pub(super) fn rounded_bounds(&self, cores: &Cores, reach: f32) -> RoundedBox {
        let (low, high) = cores.bounds();
        RoundedBox::new(low, high, self.shape.rounding() + 8.0 * self.shape.tolerance() + reach)
    }

    /// Moves along `path`, as time passes and what moves moves too, until something is touched; returns the seconds
    /// used and what was touched.
    pub fn sweep(&mut self, path: &Path) -> (f64, Option<Contact>) {
        self.sweep_against(path, Against::Moving)
    }

    /// The same along a path on which the body with a name carries it: that stays where it is under the feet.
    pub fn sweep_with(&mut self, body: u64, path: &Path) -> (f64, Option<Contact>) {
        self.sweep_against(path, Against::MovingBut(body))
    }

    fn sweep_against(&mut self, path: &Path, against: Against) -> (f64, Option<Contact>) {
        let from = self.place;
        let (used, hit) = self.sweep_through(path, against);
        self.swept = Some(Swept { place: from, way: *path, used, again: self.swept.is_some() });
        self.tell(|near| Seen::Moved { from, used, of: path.span, stopped: hit.as_ref().map(|c| near.seen(c)) });
        (used, hit)
    }

    fn sweep_through(&mut self, path: &Path, against: Against) -> (f64, Option<Contact>) {
        let start = self.time;
        let mut done = 0.0;
        while done < path.span {
            let rest = Path { velocity: path.velocity_at(done), rate: path.rate, span: path.span - done };
            let piece = self.piece_of(&rest, path.span);
            let hit = self.sweep_piece(&piece, against, piece.span);
            if let Some((used, hit)) = hit {
                self.set_time(start + done + used);
                return (done + used, Some(self.onto_the_surface(hit)));
            }
            done += piece.span;
            // The pieces add up to the whole span exactly, in spite of rounding.
            if piece.span == rest.span {
                done = path.span;
            }
            self.set_time(start + done);
        }
        (path.span, None)
    }

    /// Gathers what the beginning of a path leads through, and returns for how long that is all of it, seconds: what lies further on is
    /// looked at once it is there.
    pub fn look_along(&mut self, path: &Path) -> f64 {
        let piece = path.cut_to(self.chunk());
        let (least, most) = piece.bounds();
        let (low, high) = self.shape_bounds(&self.cores());
        self.ensure(low + least, high + most);
        piece.span
    }

    /// As much of `rest` as can be gathered and swept at once, past what turns as long as its arcs are exact; in at
    /// most sixteen such pieces for a `whole`, however wildly something spins.
    fn piece_of(&self, rest: &Path, whole: f64) -> Path {
        let piece = rest.cut_to(self.chunk());
        if !self.patch.is_moving() {
            return piece;
        }
        let exact = smooth_span(&self.cores(), &piece, self.patch, self.shape.tolerance());
        Path { span: piece.span.min(exact.max(whole / 16.0)), ..piece }
    }

    fn chunk(&self) -> f64 {
        CHUNK.max(GIANT_CHUNK * f64::from(self.shape.height))
    }

    /// Moves along a piece of a path up to the first touch. A touch most likely comes within the first `soon` seconds: facets further on
    /// are looked at only if it does not.
    fn sweep_piece(&mut self, path: &Path, against: Against, soon: f64) -> Option<(f64, Hit)> {
        let (least, most) = path.bounds();
        let (low, high) = self.shape_bounds(&self.cores());
        self.ensure(low + least, high + most);
        let cores = self.cores();
        let within = |span: f64| first_hit(&cores, (path, span as f32), self.patch, self.shape.tolerance(), against);
        let near = if soon < path.span { within(soon) } else { None };
        let Some(hit) = near.or_else(|| within(path.span)) else {
            self.place += path.at(path.span);
            return None;
        };
        let time = f64::from(hit.time).min(path.span);
        self.place += path.at(time);
        Some((time, hit))
    }

    /// Back to something that it is led round, by the hair that the way round it was off, where nothing else is in the way of that.
    pub fn press_back(&mut self, contact: &Contact) {
        if contact.gap > self.shape.tolerance() && contact.gap <= self.shape.touching() {
            let from = self.place;
            let (_, met) = self.push(contact.normal * -contact.gap);
            if met.is_some_and(|other| other.key != contact.key) {
                self.place = from;
            }
        }
    }

    /// Moves straight by `way`, at this very moment; returns the part of it that was free, 0 to 1, and what stopped it.
    pub fn push(&mut self, way: Vec3) -> (f32, Option<Contact>) {
        self.push_to(way, 1.0)
    }

    /// The same for a way that most likely leads onto something within the skin.
    pub fn push_onto(&mut self, way: Vec3) -> (f32, Option<Contact>) {
        self.push_to(way, self.shape.skin() / way.length())
    }

    fn push_to(&mut self, way: Vec3, soon: f32) -> (f32, Option<Contact>) {
        let (part, hit) = self.push_through(way, soon);
        self.tell(|near| Seen::Probed { way, part, stopped: hit.as_ref().map(|c| near.seen(c)) });
        (part, hit)
    }

    fn push_through(&mut self, way: Vec3, soon: f32) -> (f32, Option<Contact>) {
        let path = Path::straight(way);
        let mut done = 0.0;
        while done < 1.0 {
            let piece = Path { span: 1.0 - done, ..path }.cut_to(self.chunk());
            if let Some((used, hit)) = self.sweep_piece(&piece, Against::Still, f64::from(soon)) {
                return ((done + used) as f32, Some(self.onto_the_surface(hit)));
            }
            done += piece.span;
        }
        (1.0, None)
    }

    /// The touch that a sweep ended at, and the feet moved the way out of it onto the surface.
    fn onto_the_surface(&mut self, hit: Hit) -> Contact {
        let contact = match self.patch.is_moving() {
            // A moving body has moved on since the sweep.
            true => self.at_obstacle(hit.obstacle),
            false => self.contact_of(&self.cores(), &hit),
        };
        self.place += self.way_onto(&contact);
        contact
    }

    /// A touch is found just under the surface, within the tolerance: the way out onto it. Up from what has a slope to
    /// it, so that neither setting down nor stepping up ever moves the feet back; straight out of walls and ceilings.
    fn way_onto(&self, contact: &Contact) -> DVec3 {
        let under = (-contact.gap).clamp(0.0, 2.0 * self.shape.tolerance());
        let slope = contact.normal.dot(self.up);
        let way = if slope > LEAST_SLOPE { self.up * (under / slope) } else { contact.normal * under };
        way.as_dvec3()
    }

    /// The winding normal of the first facet along a ray, looking up to a kilometre; nothing where that is passed from below.
    pub fn cast(&self, from: DVec3, way: Vec3) -> Option<Vec3> {
        self.cast_within(from, way, FAR)
    }

    /// The same, looking no further than `length` metres.
    pub fn cast_within(&self, from: DVec3, way: Vec3, length: f64) -> Option<Vec3> {
        self.ray(from, way, length).map(|hit| hit.normal)
    }

    /// The first hit of a ray; none if that is a one-way floor.
    pub fn ray(&self, from: DVec3, way: Vec3, length: f64) -> Option<RayHit> {
        self.cast_at(from, way, length).filter(|hit| !hit.one_way)
    }

    fn cast_at(&self, from: DVec3, way: Vec3, length: f64) -> Option<RayHit> {
        let hit = self.terrain.cast(self.when, from, way, length);
        let to = from + way.as_dvec3() * hit.map_or(length, |hit| hit.distance);
        self.patch.note_asked(Region::between((from.min(to), from.max(to))));
        hit
    }

    /// How high its feet are over what is straight below, looking no further than `depth` metres under them.
    pub fn height_over_ground(&self, depth: f64) -> Option<f64> {
        let round = f64::from(self.shape.pivot());
        let from = self.place + (self.up * self.shape.pivot()).as_dvec3();
        let hit = self.cast_at(from, -self.up, depth + round)?;
        Some(hit.distance - round)
    }

    /// The normals of the faces straight below the feet, down to `depth` metres under `from`: is there footing?
    pub fn face_below(&self, from: Vec3, depth: f32, accept: impl Fn(Vec3) -> bool) -> bool {
        let drops = self.patch.one_way.drops;
        self.patch.facets.iter().filter(|facet| !(facet.one_way && drops)).any(|facet| {
            let steep = facet.normal.dot(self.up);
            if !accept(facet.normal * steep.signum()) || steep == 0.0 {
                return false;
            }
            let down = facet.height_of(from) / steep;
            if !(0.0..=depth).contains(&down) {
                return false;
            }
            let at = from - self.up * down;
            facet.edges().iter().all(|edge| edge.beyond(at) <= 0.0)
        })
    }
}
