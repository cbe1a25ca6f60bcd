//! Motion under way: where it was last decided, and what has been worked out and told of it.

use crate::command::Command;
use crate::drive::intent::{Change, Intent, Timed};
use crate::drive::wants::Wants;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::law::Laws;
use crate::modifiers::Modifiers;
use crate::moment::Moment;
use crate::outcome::{Event, Telling};
use crate::region::Region;
use crate::state::State;

/// Motion under way between two marks.
#[derive(Clone, Debug)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct UnderWay<M> {
    /// False where it is over: then this is only storage that is kept.
    pub goes_on: bool,
    /// True where a game has written into the character since the last tick ended in this motion.
    #[cfg_attr(feature = "serde", serde(default))]
    pub is_written: bool,
    pub mark: State,
    pub custom: M,
    /// Wishes since the mark.
    pub wants: Wants,
    /// Further changes at the mark, one by one: two presses are two.
    pub others: Vec<Timed>,
    /// Commands at the mark.
    pub orders: Vec<Command>,
    pub held: Held,
    pub told: Told,
    /// True where the last tick showed what was worked out for its very end.
    #[cfg_attr(feature = "serde", serde(skip))]
    pub is_exact: bool,
    /// The plan to the next mark, if there is one.
    #[cfg_attr(feature = "serde", serde(skip, default = "no_plan"))]
    pub plan: Option<Plan<M>>,
    /// The laws and the events of that plan; storage that is kept.
    #[cfg_attr(feature = "serde", serde(skip))]
    pub laws: Laws,
    #[cfg_attr(feature = "serde", serde(skip))]
    pub events: Vec<Event>,
}

#[cfg(feature = "serde")]
fn no_plan<M>() -> Option<Plan<M>> {
    None
}

/// Where motion leads that has been worked out to the next mark.
#[derive(Clone, Debug)]
pub(crate) struct Plan<M> {
    pub end: State,
    pub custom: M,
    pub telling: Telling,
    /// True where what is between is read off the laws.
    pub is_readable: bool,
}

/// Conditions under which planned motion stays valid.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Held {
    pub modifiers: Modifiers,
    pub tuning: u64,
    /// Stamp of the terrain within the region.
    pub terrain: u64,
    pub within: Region,
    /// How much later it is by the terrain's time than by the character's clock, seconds.
    pub ahead: f64,
}

/// Reports about the motion since a mark.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Told {
    pub events: usize,
    pub stepped: f32,
    pub turned: f32,
}

impl<M: Clone> UnderWay<M> {
    /// Motion decided in `mark`.
    pub fn new(mark: &State, custom: &M, held: Held) -> UnderWay<M> {
        UnderWay {
            goes_on: false,
            is_written: false,
            mark: *mark,
            custom: custom.clone(),
            wants: Wants::of(&Intent::default()),
            others: Vec::new(),
            orders: Vec::new(),
            held,
            told: Told::default(),
            is_exact: false,
            plan: None,
            laws: Laws::default(),
            events: Vec::new(),
        }
    }

    /// Other motion from now on, decided in `mark`: what is kept is storage.
    pub fn begin(&mut self, mark: (&State, &M), wants: (Wants, &[Timed]), orders: &[Command], held: Held) {
        (self.goes_on, self.is_written, self.held) = (true, false, held);
        (self.mark, self.custom, self.wants) = (*mark.0, mark.1.clone(), wants.0);
        (self.told, self.is_exact, self.plan) = (Told::default(), false, None);
        self.others.clear();
        self.others.extend_from_slice(wants.1);
        self.orders.clear();
        self.orders.extend_from_slice(orders);
        self.laws.clear();
        self.events.clear();
    }

    /// True if the last tick ended in this motion.
    pub fn was_shown(&self) -> bool {
        self.goes_on || self.is_written
    }

    /// Wishes after all changes at the mark.
    pub fn wants_at_last(&self) -> Wants {
        self.wants.after(&self.others)
    }
}

impl Held {
    /// True where nothing has changed: but for the unit by which the two clocks round apart.
    pub fn is_as(&self, before: &Held) -> bool {
        (self.ahead - before.ahead).abs() < 1.5 * Moment::UNIT && Held { ahead: before.ahead, ..*self } == *before
    }
}

/// A mark that the tick has come to.
pub(crate) struct Start<M> {
    pub state: State,
    pub custom: M,
    pub wants: Wants,
    /// True where something has changed at this very mark.
    pub has_changed: bool,
    pub told: Told,
    /// True for the mark of motion that was under way when the tick began.
    pub is_under_way: bool,
}

impl<M> Start<M> {
    /// A mark that the tick has come to by itself.
    pub fn new(state: State, custom: M, wants: Wants) -> Start<M> {
        Start { state, custom, wants, has_changed: false, told: Told::default(), is_under_way: false }
    }

    /// Something changes at this mark; nothing where that is no news.
    pub fn change(&mut self, change: Change, others: &mut Vec<Timed>) {
        if !self.wants.after(others).is_news(change) {
            return;
        }
        if self.has_changed {
            others.push(Timed { at: 0.0, change });
        } else {
            (self.wants, self.has_changed) = (self.wants.changed(change), true);
        }
    }
}

impl<M: PartialEq> PartialEq for UnderWay<M> {
    fn eq(&self, other: &UnderWay<M>) -> bool {
        // The plan follows from these.
        (&self.mark, &self.custom, &self.wants, &self.others, &self.orders, &self.held)
            == (&other.mark, &other.custom, &other.wants, &other.others, &other.orders, &other.held)
    }
}

impl<M: Fingerprinted> Fingerprinted for UnderWay<M> {
    fn feed(&self, print: &mut Fingerprint) {
        self.mark.feed(print);
        self.custom.feed(print);
        self.wants.feed(print);
        self.others.iter().for_each(|other| other.feed(print));
        self.orders.iter().for_each(|order| order.feed(print));
    }
}
