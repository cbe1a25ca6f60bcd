//! The character's own legs, for trying: where it can stand, and whether a straight way can be walked. Their results hold, because the character itself makes the trials.

use newel::glam::{DVec3, Vec3};
use newel::{
    Character, Command, Footing, Heading, Hold, Intent, Mode, Modifiers, Patch, RayHit, Stance, Support, Terrain, Tick,
    Timetable, Tuning, When, Workspace,
};

use crate::budget::{Budget, QUERIES_A_PLACE, TRIAL_TICK};
use crate::frame::Frame;
use crate::survey::Survey;
use crate::told::Told;
use crate::walk::Walk;

/// It is there where it is this near over the map, metres, and this near in height; what slid along something is not.
const THERE: f64 = 2e-3;
const SAME_FLOOR: f64 = 0.05;
/// Where the slope changes on the way it takes some more steps to come there exactly: at most so many.
const CORRECTIONS: usize = 8;
/// A tick of no account, seconds: all that is done in it takes no time.
const INSTANT: f64 = 1e-4;
/// And so near on water, where it rises and sinks a little meanwhile.
const SWUM_THERE: f64 = 0.03;
/// Walking into water or out of it is tried in at most so many ticks of so many seconds.
const WADES: usize = 60;
const WADING_TICK: f64 = 0.05;
/// Ticks for coming to rest, and how long they are, seconds.
const SETTLING: usize = 6;
const SETTLING_TICK: f64 = 0.02;

pub(crate) struct Legs<'a> {
    pub terrain: &'a dyn Terrain,
    pub when: When,
    pub survey: &'a Survey,
    pub frame: Frame,
    /// The tuning it is surveyed with: nothing lost on the way, for where it can go is asked and not how fast; and a little short of the
    /// highest step and the farthest overhang.
    pub plain: &'a Tuning,
    /// The tuning as it is, for what is more than walking.
    pub real: &'a Tuning,
    /// Cost of its trials.
    pub budget: Budget,
    modifiers: Modifiers,
    work: Workspace,
    nobodies: [Option<Character>; 3],
}

/// Why somebody does not come to stand.
enum Unfit {
    /// Something is in the way.
    NoRoom,
    /// There is nothing to stand on.
    NoFooting,
}

/// A world with nothing in it.
pub(crate) struct Nothing;

impl Terrain for Nothing {
    fn gather(&self, _: When, _: &mut Patch) {}
    fn cast(&self, _: When, _: DVec3, _: Vec3, _: f64) -> Option<RayHit> {
        None
    }
}

/// A world in which a tick is worked out at once, however long it is: what is tried out is looked at only at its end.
struct AtOnce<'a>(&'a dyn Terrain);

impl Terrain for AtOnce<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.0.gather(when, patch);
    }
    fn stamp(&self, when: When, within: (DVec3, DVec3)) -> Option<u64> {
        self.0.stamp(when, within)
    }
    fn timetable(&self, _: When, _: (DVec3, DVec3)) -> Option<Timetable> {
        None
    }
    fn footing(&self, surface: u16) -> Footing {
        self.0.footing(surface)
    }
    fn hold(&self, surface: u16) -> Hold {
        self.0.hold(surface)
    }
    fn wave(&self, zone: u64, place: DVec3, when: When, t: f64) -> f64 {
        self.0.wave(zone, place, when, t)
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.0.cast(when, from, along, length)
    }
}

impl<'a> Legs<'a> {
    pub fn new(
        terrain: &'a dyn Terrain,
        when: When,
        survey: &'a Survey,
        frame: Frame,
        both: [&'a Tuning; 2],
    ) -> Legs<'a> {
        let (modifiers, work, [plain, real]) = (Modifiers::default(), Workspace::new(), both);
        let budget = Budget::unlimited();
        Legs { terrain, when, survey, frame, plain, real, budget, modifiers, work, nobodies: [const { None }; 3] }
    }

    /// The same once more, for another thread.
    pub fn again(&self) -> impl Fn() -> Legs<'a> + Sync + 'a {
        let Legs { terrain, when, survey, frame, plain, real, .. } = *self;
        move || Legs::new(terrain, when, survey, frame, [plain, real])
    }

    /// Somebody standing at rest where the feet come down from `place`, at most `aside` metres away over the map and a step away in height:
    /// upright if there is room, else as low as there must be.
    pub fn stand(&mut self, place: DVec3, aside: f64) -> Option<Character> {
        self.stand_as(place, aside, &[Stance::Stand, Stance::Crouch, Stance::Prone])
    }

    /// The same in one of these stances, the first that has room.
    pub fn stand_as(&mut self, place: DVec3, aside: f64, stances: &[Stance]) -> Option<Character> {
        for &stance in stances {
            match self.stand_so(place, aside, stance) {
                Ok(it) => return Some(it),
                Err(Unfit::NoRoom) => {}
                // Without ground, or in deep water, ducking does not help.
                Err(Unfit::NoFooting) => return None,
            }
        }
        None
    }

    fn stand_so(&mut self, place: DVec3, aside: f64, stance: Stance) -> Result<Character, Unfit> {
        if stance != Stance::Stand && self.plain.low(stance).is_none() {
            return Err(Unfit::NoRoom);
        }
        let mut it = self.nobody(stance).ok_or(Unfit::NoFooting)?;
        it.position = place;
        let mut pushed = false;
        for _ in 0..SETTLING {
            let told = self.pass(&mut it, SETTLING_TICK).ok_or(Unfit::NoFooting)?;
            pushed |= told.is_stuck || told.is_pushed || it.stance != stance;
            if it.mode == Mode::Swim && stance == Stance::Stand && self.survey.swims {
                return self.float(it, place, aside, told.depth);
            }
            if told.is_stuck || it.mode == Mode::Swim || it.stance != stance || !self.is_near(it.position, place, aside)
            {
                break;
            }
            if self.is_at_rest(&it) {
                // A character that has sunk to the bottom of deep water does not stay there.
                let told = self.pass(&mut it, INSTANT).ok_or(Unfit::NoFooting)?;
                let stays = self.is_at_rest(&it) && (self.survey.swims || told.depth <= self.survey.wades);
                return if stays { Ok(it) } else { Err(Unfit::NoFooting) };
            }
        }
        Err(if pushed { Unfit::NoRoom } else { Unfit::NoFooting })
    }

    /// A swimmer floating at rest over where it swims, its feet `depth` metres under water.
    fn float(&mut self, mut it: Character, place: DVec3, aside: f64, depth: f64) -> Result<Character, Unfit> {
        let swim = self.plain.values().swim.ok_or(Unfit::NoFooting)?;
        let floats = f64::from(swim.float) * f64::from(self.plain.shape().height);
        it.position = place + self.frame.up * (depth - floats);
        it.velocity = DVec3::ZERO;
        let at = it.position;
        let told = self.pass(&mut it, INSTANT).ok_or(Unfit::NoFooting)?;
        it.velocity = DVec3::ZERO;
        let off = self.frame.map(it.position) - self.frame.map(place);
        let stays = (it.position - at).length() <= SAME_FLOOR && off.abs().max_element() <= aside;
        match told.is_stuck || told.is_pushed || it.mode != Mode::Swim || !stays {
            true => Err(Unfit::NoRoom),
            false => Ok(it),
        }
    }

    /// Somebody in a stance who has not been anywhere yet.
    fn nobody(&mut self, stance: Stance) -> Option<Character> {
        let known = self.nobodies[stance as usize].take();
        let spawn = || Character::spawn(&Nothing, self.plain, self.survey.spawn(self.survey.through, stance)).ok();
        self.nobodies[stance as usize] = known.or_else(spawn);
        self.nobodies[stance as usize].clone()
    }

    fn is_near(&self, at: DVec3, place: DVec3, aside: f64) -> bool {
        let off = self.frame.map(at) - self.frame.map(place);
        let rise = self.frame.height(at) - self.frame.height(place);
        off.abs().max_element() <= aside && rise.abs() <= self.step() + 0.1
    }

    /// True where nothing is in the way of somebody who stands there, and it is not inside of something.
    pub fn is_clear(&self, it: &Character) -> bool {
        Character::spawn(self.terrain, self.plain, self.survey.spawn(it.position, it.stance)).is_ok()
    }

    /// True where somebody swims who is put there upright.
    pub fn is_deep(&mut self, place: DVec3) -> bool {
        let Some(mut it) = self.nobody(Stance::Stand) else { return false };
        it.position = place + self.frame.up * 0.02;
        self.pass(&mut it, SETTLING_TICK).is_some() && it.mode == Mode::Swim
    }

    /// The highest step the tuning takes in stride.
    pub fn step(&self) -> f64 {
        f64::from(self.plain.values().ground.step)
    }

    fn is_at_rest(&self, it: &Character) -> bool {
        it.mode == Mode::Ground && it.velocity == DVec3::ZERO && carries(it)
    }

    fn pass(&mut self, it: &mut Character, dt: f64) -> Option<Told> {
        let intent = Intent::default().in_stance(it.stance);
        self.play(self.plain, it, &intent, &[], dt)
    }

    /// One tick with one of the tunings; `None` where it was not made, which only a terrain that answers nonsense leads to.
    fn play(
        &mut self,
        tuning: &Tuning,
        it: &mut Character,
        intent: &Intent,
        commands: &[Command],
        dt: f64,
    ) -> Option<Told> {
        let Legs { terrain, when, modifiers, work, .. } = self;
        let tick = Tick { number: when.number, terrain: &AtOnce(*terrain), tuning, modifiers, dt };
        let told = tick.step(work, it, intent, commands).ok().map(|outcome| Told::of(&outcome));
        self.budget.spend(TRIAL_TICK + u64::from(self.work.take_queries()) / QUERIES_A_PLACE);
        told
    }

    /// One tick with the tuning as it is.
    pub fn play_for_real(&mut self, it: &mut Character, intent: &Intent, dt: f64) -> Option<Told> {
        self.play(self.real, it, intent, &[], dt)
    }

    /// Walks or swims straight over the map to where `to` is on it: whoever is there then, on the same floor, and how far that was along
    /// the ground; `None` where something is in the way, the ground ends, or what is walked on is slower than `pace`, a factor on the top
    /// speed.
    pub fn walk(&mut self, who: &Character, to: DVec3, pace: f32) -> Option<(Character, f64)> {
        Walk::by(self, who, to, pace).whole(self)
    }

    /// The same to whatever floor that leads to.
    pub fn walk_on(&mut self, who: &Character, to: DVec3) -> Option<Character> {
        Walk::by(self, who, to, 0.0).whole_to_any_floor(self)
    }

    /// Walks into water, or swims out of it, toward a place: true where it comes there.
    pub fn wades(&mut self, who: &Character, to: DVec3) -> bool {
        let (frame, mut it) = (self.frame, who.clone());
        it.velocity = DVec3::ZERO;
        for _ in 0..WADES {
            let Some(way) = frame.direction(to - it.position) else { return true };
            let intent = Intent::new(Heading::World(way.as_vec3())).in_stance(it.stance);
            if self.play_for_real(&mut it, &intent, WADING_TICK).is_none() {
                return false;
            }
            let (near, rise) = (frame.across(it.position, to), frame.height(it.position) - frame.height(to));
            if near <= 0.5 * self.survey.cell && rise.abs() <= self.step() + self.survey.cell {
                return matches!(it.mode, Mode::Ground | Mode::Swim);
            }
        }
        false
    }

    /// Swims straight to a place on the water; false where it did not come there.
    pub fn swim_to(&mut self, it: &mut Character, to: DVec3) -> bool {
        let command = Command::Displace { by: to - it.position };
        let there = self.play(self.plain, it, &Intent::default(), &[command], INSTANT).is_some();
        it.velocity = DVec3::ZERO;
        there && it.mode == Mode::Swim && self.frame.across(it.position, to) <= SWUM_THERE
    }

    /// Goes straight over the map to where `to` is on it; false where it did not come there on the ground.
    pub fn go_to(&mut self, it: &mut Character, to: DVec3) -> bool {
        let frame = self.frame;
        for _ in 0..CORRECTIONS {
            let left = frame.place(frame.map(to) - frame.map(it.position), 0.0);
            if left.length() <= THERE {
                return true;
            }
            // Distance is measured along the slope.
            let normal = it.ground.ground(it.position).normal.as_dvec3();
            let rise = left.dot(normal) / normal.dot(frame.up).max(0.1);
            let before = it.position;
            if !self.go(it, left * (left.length_squared() + rise * rise).sqrt() / left.length()) {
                return false;
            }
            // Little of the way gone is something in the way.
            if frame.across(it.position, before) < 0.3 * left.length() {
                return false;
            }
        }
        frame.across(it.position, to) <= THERE
    }

    /// Goes by a flat vector in no time, as far as that is along the ground; false where it did not stay on the ground.
    pub fn go(&mut self, it: &mut Character, by: DVec3) -> bool {
        if by.length() < 1e-9 {
            return true;
        }
        let intent = Intent::default().in_stance(it.stance);
        let stance = it.stance;
        let told = self.play(self.plain, it, &intent, &[Command::Displace { by }], INSTANT);
        let left = told.is_none_or(|told| told.left);
        it.velocity = DVec3::ZERO;
        !left && it.mode == Mode::Ground && it.stance == stance && carries(it)
    }

    /// Factor of the ground and the water on the top speed: a factor.
    pub fn pace(&mut self, it: &Character) -> f32 {
        if it.mode == Mode::Swim {
            let swims = self.real.values().swim.map_or(1.0, |swim| swim.speed);
            return swims / self.real.values().ground.speed.max(0.01);
        }
        let footing = self.terrain.footing(it.ground.ground(it.position).surface).speed.clamp(0.0, 1.0);
        let under = if it.immersed == Default::default() { 0.0 } else { self.under(it) };
        footing * (1.0 - (1.0 - self.plain.values().ground.wading.min(1.0)) * under)
    }

    /// How much of it is under water.
    fn under(&mut self, it: &Character) -> f32 {
        let mut again = it.clone();
        self.pass(&mut again, INSTANT).map_or(0.0, |told| told.under)
    }
}

fn carries(it: &Character) -> bool {
    let support = it.ground.ground(it.position).support;
    matches!(support, Support::Firm | Support::Edge | Support::Wedge)
}
