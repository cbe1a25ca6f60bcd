//! Many characters among each other: solid, soft or not there for one another; moved in parallel, the same bits whoever moves first.

mod among;
mod hold_back;
mod order;
mod pair;
mod snapshot;
mod stack;

use crate::character::Character;
use crate::command::Command;
use crate::drive::intent::Intent;
use crate::error::TickError;
use crate::fingerprint::Fingerprinted;
use crate::mode::CustomMode;
use crate::modifiers::Modifiers;
use crate::outcome::{Event, Outcome, Readout};
use crate::step::Tick;
use crate::terrain::{Layers, Terrain};
use crate::tuning::Tuning;
use crate::workspace::Workspace;

use among::Among;
use hold_back::hold_back;
use order::Order;
use snapshot::Snapshot;
use stack::Stacks;

/// Members that one thread takes at a time, at least.
const AT_A_TIME: usize = 32;

/// Workspaces for so many members: a few for each thread, so that none waits long for another, and each stays in the cache.
fn works_for(members: usize) -> usize {
    #[cfg(feature = "parallel")]
    let most = 8 * rayon::current_num_threads();
    #[cfg(not(feature = "parallel"))]
    let most = 1;
    members.div_ceil(AT_A_TIME).clamp(1, most)
}

/// Behaviour of a head under the feet of another character.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Heads {
    /// It can stand there, and is carried along.
    #[default]
    Carry,
    /// It slips off.
    SlipOff,
}

/// One of a crowd.
///
/// Who it is to the others its [`Modifiers::who`] says: its name, and the layers it is on. Two are solid to each other where each is on
/// a layer that the other is solid to; else soft, where each is on a layer that the other is soft to; else they pass through each other.
#[derive(Clone, Debug)]
pub struct Member<M = ()> {
    /// The character.
    pub character: Character<M>,
    /// Intent of the next tick.
    pub intent: Intent,
    /// Commands of the next tick; emptied by it.
    pub commands: Vec<Command>,
    /// Modifiers in effect, and the identity of the member.
    pub modifiers: Modifiers,
    /// Which of the tunings is its own.
    pub tuning: usize,
    /// Layers of those that it cannot be in one place with.
    pub solid: Layers,
    /// Layers of those that it is pushed apart from, smoothly.
    pub soft: Layers,
    /// How much of that the other moves: two part as their weights are, the lighter further. 0 gives way to all, more than 0 to none of weight 0.
    pub weight: f32,
    /// Behaviour of its head under the feet of others.
    pub heads: Heads,
}

impl<M> Member<M> {
    /// One that is solid to everybody, by the first of the tunings.
    #[must_use]
    pub fn new(character: Character<M>) -> Member<M> {
        Member {
            character,
            intent: Intent::default(),
            commands: Vec::new(),
            modifiers: Modifiers::default(),
            tuning: 0,
            solid: Layers::ALL,
            soft: Layers::NONE,
            weight: 1.0,
            heads: Heads::default(),
        }
    }
}

/// Why a crowd could not be moved. Nobody has then moved.
#[derive(Clone, Debug, PartialEq)]
#[non_exhaustive]
pub enum CrowdError {
    /// One of them could not.
    Member {
        /// Which, by its place.
        member: usize,
        /// Why.
        error: TickError,
    },
    /// There is no tuning of that number.
    NoTuning {
        /// Whose, by its place.
        member: usize,
        /// Which was asked for.
        tuning: usize,
        /// How many there are.
        tunings: usize,
    },
    /// A weight that is negative or no number.
    Weight {
        /// Whose, by its place.
        member: usize,
        /// What it is.
        weight: f32,
    },
}

impl core::fmt::Display for CrowdError {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        match self {
            CrowdError::Member { member, error } => write!(f, "member {member}: {error}"),
            CrowdError::NoTuning { member, tuning, tunings } => {
                write!(f, "member {member} asks for tuning {tuning}: there are {tunings}, from 0")
            }
            CrowdError::Weight { member, weight } => {
                write!(f, "member {member} weighs {weight}: 0 or more is allowed")
            }
        }
    }
}

impl core::error::Error for CrowdError {}

/// Moves any number of characters through a tick together; its storage is reused from tick to tick.
///
/// ```
/// use newel::{Character, Crowd, Intent, Layers, Member, Mesh, Tuning, glam::Vec3};
/// # let level = Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2])?;
/// let tunings = [Tuning::walker()];
/// let mut all = Vec::new();
/// for x in [-2.0, 2.0] {
///     let mut one = Member::new(Character::spawn(&level, &tunings[0], [x, 0.0, 0.0])?);
///     one.intent = Intent::toward(Vec3::X * -x as f32);
///     all.push(one);
/// }
/// let mut crowd = Crowd::new();
/// for number in 0..120 {
///     crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut all)?;
/// }
/// let apart = (all[1].character.position - all[0].character.position).length();
/// assert!(apart > 2.0 * f64::from(tunings[0].shape().radius) - 1e-4, "they met, and are not in each other");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Default)]
pub struct Crowd<M = ()> {
    /// Surface number of characters to each other: the game's own number for a surface.
    pub surface: u16,
    snapshot: Snapshot,
    stacks: Stacks,
    order: Order,
    /// In the order in which they are moved.
    results: Vec<Moved<M>>,
    works: Vec<Workspace>,
}

/// Result of one member's tick.
#[derive(Debug)]
struct Moved<M> {
    character: Option<Character<M>>,
    events: Vec<Event>,
    inside: Vec<u64>,
    readout: Option<Readout>,
    error: Option<TickError>,
}

impl<M> Default for Moved<M> {
    fn default() -> Moved<M> {
        Moved { character: None, events: Vec::new(), inside: Vec::new(), readout: None, error: None }
    }
}

/// The game's inputs to a tick of a crowd.
struct Shared<'a> {
    terrain: &'a dyn Terrain,
    snapshot: &'a Snapshot,
    stacks: &'a Stacks,
    tunings: &'a [Tuning],
    number: u64,
    dt: f64,
    /// Those move who have so many under them.
    rank: u32,
    /// True once more, for those whom somebody on their heads holds back.
    again: bool,
}

/// The tick of one of them.
fn tick_of<'a, M>(
    member: &'a Member<M>,
    tunings: &'a [Tuning],
    terrain: &'a dyn Terrain,
    (number, dt): (u64, f64),
) -> Tick<'a> {
    Tick { number, terrain, tuning: &tunings[member.tuning], modifiers: &member.modifiers, dt }
}

impl<M> Crowd<M> {
    /// One that has moved nobody yet.
    #[must_use]
    pub fn new() -> Crowd<M> {
        Crowd {
            surface: 0,
            snapshot: Snapshot::default(),
            stacks: Stacks::default(),
            order: Order::default(),
            results: Vec::new(),
            works: Vec::new(),
        }
    }

    /// The result of a member's last tick, by its place; `None` where that moved no such.
    #[must_use]
    pub fn outcome(&self, member: usize) -> Option<Outcome<'_>> {
        let moved = self.results.get(self.order.turn_of(member)?)?;
        Some(Outcome { events: &moved.events, readout: moved.readout?, inside: &moved.inside })
    }
}

impl<M: CustomMode + Clone + Send + Sync> Crowd<M> {
    /// Moves all `members` through tick `number` of `dt` seconds. Everyone sees the others beside it as they stood when it began, and those
    /// below it as they have moved, so that their order makes no difference; with the feature `parallel` on all threads of the pool it is
    /// called in, and the same bits.
    ///
    /// # Errors
    /// [`CrowdError`] names the first whose tick was refused; nobody has then moved.
    pub fn step(
        &mut self,
        terrain: &dyn Terrain,
        number: u64,
        dt: f64,
        tunings: &[Tuning],
        members: &mut [Member<M>],
    ) -> Result<(), CrowdError> {
        check(tunings, members)?;
        self.snapshot.surface = self.surface;
        self.snapshot.take(members, tunings, dt);
        if self.stacks.find(&self.snapshot) {
            self.snapshot.reach_further(&self.stacks.carried);
        }
        self.order.arrange(members.iter().map(|member| member.character.state.position));
        self.results.resize_with(members.len(), Moved::default);
        self.works.resize_with(works_for(members.len()), Workspace::new);
        for rank in 0..=self.stacks.highest() {
            let (snapshot, stacks) = (&self.snapshot, &self.stacks);
            let shared = Shared { terrain, snapshot, stacks, tunings, number, dt, rank, again: false };
            move_all(&shared, (members, self.order.turns()), &mut self.results, &mut self.works);
            self.note(rank, tunings, members);
            let tick = |member| tick_of(member, tunings, terrain, (number, dt));
            let first = self.works.first_mut();
            if first.is_some_and(|work| hold_back((&self.snapshot, &mut self.stacks), rank, members, tick, work)) {
                let (snapshot, stacks) = (&self.snapshot, &self.stacks);
                let shared = Shared { terrain, snapshot, stacks, tunings, number, dt, rank, again: true };
                move_all(&shared, (members, self.order.turns()), &mut self.results, &mut self.works);
                self.note(rank, tunings, members);
            }
        }
        let turns = self.order.turns().iter().zip(&mut self.results);
        let refused = turns.filter_map(|(member, moved)| Some((*member, moved.error.take()?)));
        if let Some((member, error)) = refused.min_by_key(|(member, _)| *member) {
            return Err(CrowdError::Member { member, error });
        }
        for (member, moved) in self.order.turns().iter().zip(&mut self.results) {
            let member = &mut members[*member];
            member.commands.clear();
            if let Some(character) = moved.character.take() {
                member.character = character;
            }
        }
        Ok(())
    }

    /// Notes where those of a rank ended, for whoever is over them.
    fn note(&mut self, rank: u32, tunings: &[Tuning], members: &[Member<M>]) {
        if self.stacks.highest() == rank {
            return;
        }
        for (n, moved) in self.order.turns().iter().zip(&self.results) {
            let (Some(character), member) = (&moved.character, &members[*n]) else { continue };
            let (before, after) = (member.character.stance, character.stance);
            let [was, shape] = [before, after].map(|stance| tunings[member.tuning].shape_in(stance));
            self.stacks.note(*n, &character.state, shape, f64::from(shape.height - was.height));
        }
    }
}

fn check<M>(tunings: &[Tuning], members: &[Member<M>]) -> Result<(), CrowdError> {
    for (member, one) in members.iter().enumerate() {
        if one.tuning >= tunings.len() {
            return Err(CrowdError::NoTuning { member, tuning: one.tuning, tunings: tunings.len() });
        }
        if !(one.weight >= 0.0 && one.weight.is_finite()) {
            return Err(CrowdError::Weight { member, weight: one.weight });
        }
        if let Some(field) = one.character.state.not_finite() {
            return Err(CrowdError::Member { member, error: TickError::NotFinite { field } });
        }
    }
    Ok(())
}

/// Moves all members of a rank, one after the other by the turns that they take, on as many threads as there are.
fn move_all<M: CustomMode + Clone + Send + Sync>(
    shared: &Shared<'_>,
    (members, turns): (&[Member<M>], &[usize]),
    results: &mut [Moved<M>],
    works: &mut [Workspace],
) {
    let move_some = |((turns, results), work): ((&[usize], &mut [Moved<M>]), &mut Workspace)| {
        for (member, moved) in turns.iter().zip(results) {
            move_one(shared, work, (*member, &members[*member]), moved);
        }
    };
    #[cfg(feature = "parallel")]
    {
        use rayon::prelude::*;
        let many = turns.len().div_ceil(works.len()).max(1);
        let some = turns.par_chunks(many).zip(results.par_chunks_mut(many));
        some.zip(works.par_iter_mut()).for_each(move_some);
    }
    #[cfg(not(feature = "parallel"))]
    works.first_mut().into_iter().for_each(|work| move_some(((turns, &mut *results), work)));
}

fn move_one<M: CustomMode + Clone>(
    shared: &Shared<'_>,
    work: &mut Workspace,
    (me, member): (usize, &Member<M>),
    moved: &mut Moved<M>,
) {
    let stacks = shared.stacks;
    if stacks.rank(me) != shared.rank || shared.again && !stacks.is_held(me) {
        return;
    }
    let terrain = Among { terrain: shared.terrain, snapshot: shared.snapshot, stacks, me, dt: shared.dt, alone: false };
    let tick = tick_of(member, shared.tunings, &terrain, (shared.number, shared.dt));
    let mut character = member.character.clone();
    let by = shared.snapshot.pushed(me, shared.dt);
    // Most are pushed by nobody, and told nothing.
    let mut pushed = Vec::new();
    let commands = if by == glam::DVec3::ZERO {
        &member.commands[..]
    } else {
        pushed.extend_from_slice(&member.commands);
        pushed.push(Command::Displace { by });
        &pushed[..]
    };
    moved.events.clear();
    moved.inside.clear();
    match tick.step(work, &mut character, &member.intent, commands) {
        Ok(outcome) => {
            moved.events.extend_from_slice(outcome.events);
            moved.inside.extend_from_slice(outcome.inside);
            moved.readout = Some(outcome.readout);
            moved.character = Some(character);
        }
        Err(error) => moved.error = Some(error),
    }
}

impl<M: Fingerprinted> Member<M> {
    /// A 64-bit hash of its state, as [`Character::hash`].
    #[must_use]
    pub fn hash(&self) -> u64 {
        self.character.hash()
    }
}
