//! When motion is decided: at moments of a fixed grid, and where something changes. A tick's end is no such moment.
//!
//! Where the terrain's answers are laid down for all time, motion is worked out from one mark to the next: a moment of the grid, or one at
//! which what is wanted changes. A tick that ends in between reads what was worked out, or, where that is no closed law, works it out
//! again as far as it shows. So the same wishes at the same times lead to the same bits, whatever the tick rate. On terrain that may
//! change in any way, every tick's end is a mark: what was there before it cannot be asked for again.

mod plan;

use crate::character::Character;
use crate::command::Command;
use crate::drive::intent::{Intent, Timed};
use crate::drive::wants::Wants;
use crate::error::TickError;
use crate::explain::Listener;
use crate::mode::CustomMode;
use crate::moment::Moment;
use crate::outcome::Telling;
use crate::region::Region;
use crate::run::sensing::into_tick;
use crate::state::State;
use crate::step::{Slice, Tick};
use crate::under_way::{Held, Start, Told, UnderWay};
use crate::workspace::Workspace;

impl Tick<'_> {
    /// Makes the whole tick of one character; `None` where the terrain answers nonsense.
    pub(crate) fn make<M: CustomMode + Clone>(
        &self,
        work: &mut Workspace,
        character: &mut Character<M>,
        (intent, commands): (&Intent, &[Command]),
        listener: Listener<'_>,
    ) -> Result<Option<Telling>, TickError> {
        work.begin();
        let start = Moment::at(character.state.clock);
        let (end, remainder) = start.end_of_tick(self.dt, character.remainder);
        let known = character.under_way.as_ref().filter(|known| known.was_shown()).map(|known| known.held.within);
        let within = known.unwrap_or_else(|| Region::about(&character.state, self.tuning));
        let held = self.held(within, start).filter(|_| end > start);
        let changes = core::mem::take(&mut work.changes);
        let asks = (intent, &changes[..], commands);
        let made = match held {
            None => self.make_at_once(work, character, asks, (listener, end)),
            Some(held) => self.make_by_marks(work, character, asks, (listener, held, start, end)),
        };
        work.changes = changes;
        if made.is_ok() {
            character.remainder = remainder;
        }
        made
    }

    /// The conditions under which motion planned in a region stays valid. `None` if the terrain has no timetable there.
    fn held(&self, within: Region, start: Moment) -> Option<Held> {
        let table = self.terrain.timetable(self.when(), within.corners())?;
        let ahead = table.time.map_or(0.0, |time| Moment::at(time).since(start));
        let (modifiers, tuning) = (*self.modifiers, self.tuning.stamp());
        Some(Held { modifiers, tuning, terrain: table.stamp, within, ahead })
    }

    /// The tick from mark to mark, or as one slice if the character reaches terrain without a timetable.
    fn make_by_marks<M: CustomMode + Clone>(
        &self,
        work: &mut Workspace,
        character: &mut Character<M>,
        (intent, changes, commands): (&Intent, &[Timed], &[Command]),
        (mut listener, held, start, end): (Listener<'_>, Held, Moment, Moment),
    ) -> Result<Option<Telling>, TickError> {
        let others = core::mem::take(&mut work.others);
        let (lent, telling, strays) = (listener.lend(), Telling::default(), false);
        let mut way = Way { tick: self, work, listener: lent, held, start, end, telling, others, strays };
        // A command may yet be refused.
        let before = commands.iter().any(is_order).then(|| character.under_way.clone());
        let made = way.go(character, intent, (changes, commands));
        if made.is_err() {
            character.under_way = before.unwrap_or_default();
        }
        let (telling, others, strays) = (way.telling, way.others, way.strays);
        work.others = others;
        if strays && made.is_ok() {
            work.begin();
            return self.make_at_once(work, character, (intent, changes, commands), (listener, end));
        }
        made.map(|made| made.map(|()| telling))
    }

    /// The tick as one slice.
    fn make_at_once<M: CustomMode + Clone>(
        &self,
        work: &mut Workspace,
        character: &mut Character<M>,
        (intent, changes, commands): (&Intent, &[Timed], &[Command]),
        (mut listener, end): (Listener<'_>, Moment),
    ) -> Result<Option<Telling>, TickError> {
        let (listener, dt, begins, is_cut) = (listener.lend(), self.dt, 0.0, false);
        work.take_asked();
        let slice = Slice { work: &mut *work, listener, intent, changes, commands, dt, begins, is_cut };
        let Some((state, custom, told)) = self.go(slice, &character.state, &character.custom)? else { return Ok(None) };
        let mut state = State { clock: end.clock(), ..state };
        state.rest = self.remember(&character.state, &state, &work.take_asked(), Some(work.patch()));
        (character.state, character.custom) = (state, custom);
        character.end_motion();
        Ok(Some(told))
    }
}

/// The way of one character through a tick, from mark to mark.
struct Way<'t, 'w, 'l> {
    tick: &'t Tick<'t>,
    work: &'w mut Workspace,
    listener: Listener<'l>,
    held: Held,
    start: Moment,
    end: Moment,
    telling: Telling,
    /// Further changes at the present mark, after the first.
    others: Vec<Timed>,
    /// True if the character has reached terrain without a timetable.
    strays: bool,
}

/// Inputs of a tick.
struct Asks<'a> {
    intent: &'a Intent,
    changes: &'a [Timed],
    gives_orders: bool,
}

/// True for what is obeyed at once, and is no change of what is wanted.
fn is_order(command: &Command) -> bool {
    !matches!(command, Command::Change(_))
}

/// Result of a slice.
type Made<M> = (State, M, Telling);

impl Way<'_, '_, '_> {
    /// Takes the character through the tick; `None`, here and below, where the terrain answers nonsense.
    fn go<M: CustomMode + Clone>(
        &mut self,
        character: &mut Character<M>,
        intent: &Intent,
        (changes, commands): (&[Timed], &[Command]),
    ) -> Result<Option<()>, TickError> {
        self.work.stand(self.tick.figure(&character.state), character.state.position, 0.0);
        let asks = Asks { intent, changes, gives_orders: commands.iter().any(is_order) };
        if let Some(known) = &mut character.under_way
            && self.ends_within_plan(known, &asks)
        {
            character.state = self.read(known);
            return Ok(Some(()));
        }
        let mut under_way = character.under_way.take();
        let Some(mut from) = self.begin(character, under_way.as_deref_mut(), &asks)? else {
            return Ok(None);
        };
        let mut orders = core::mem::take(&mut self.work.orders);
        orders.clear();
        match &under_way {
            Some(known) if from.is_under_way => orders.extend_from_slice(&known.orders),
            _ => orders.extend(commands.iter().filter(|command| is_order(command)).copied()),
        }
        let mut changes = changes.iter().peekable();
        loop {
            let here = Moment::at(from.state.clock);
            if here >= self.end {
                (character.state, character.custom, character.under_way) = (from.state, from.custom, under_way);
                character.end_motion();
                break;
            }
            // A change to the present value is no change.
            let is_due =
                |wants: Wants, timed: &Timed| self.start.after(timed.at) <= here || !wants.is_news(timed.change);
            while let Some(due) = changes.next_if(|timed| is_due(from.wants.after(&self.others), timed)) {
                from.change(due.change, &mut self.others);
            }
            if !from.is_under_way && !self.hold(Region::about(&from.state, self.tick.tuning)) {
                return Ok(None);
            }
            let next_change = changes.peek().map_or(self.end, |timed| self.start.after(timed.at));
            let next_mark = here.next_stride();
            let stop = next_mark.min(next_change).min(self.end);
            if stop == self.end && stop != next_mark {
                let known = under_way.take();
                let Some(made) = self.look(from, &orders, known)? else { return Ok(None) };
                (character.state, character.custom, character.under_way) = made;
                break;
            }
            let known = under_way.as_deref_mut().filter(|_| from.is_under_way && stop == next_mark);
            let Some((state, custom)) = self.reach(&from, &orders, stop, known)? else { return Ok(None) };
            from = Start::new(state, custom, from.wants.after(&self.others));
            self.others.clear();
            orders.clear();
        }
        self.work.orders = orders;
        Ok(Some(()))
    }

    /// True where nothing at the start of the tick ends the motion under way.
    fn goes_on_as_before<M: Clone>(&self, known: &UnderWay<M>, asks: &Asks<'_>) -> bool {
        let wants = known.wants_at_last();
        let news = asks.changes.iter().find(|timed| wants.is_news(timed.change));
        known.goes_on
            && !asks.gives_orders
            && wants == Wants::of(asks.intent)
            && news.is_none_or(|timed| self.start.after(timed.at) > self.start)
    }

    /// The mark from which the tick's motion is to be worked out.
    fn begin<M: CustomMode + Clone>(
        &mut self,
        character: &Character<M>,
        under_way: Option<&mut UnderWay<M>>,
        asks: &Asks<'_>,
    ) -> Result<Option<Start<M>>, TickError> {
        let is_valid = |known: &&mut UnderWay<M>| known.was_shown() && self.held.is_as(&known.held);
        self.others.clear();
        let (mut state, mut custom) = (character.state, character.custom.clone());
        if let Some(known) = under_way.filter(is_valid) {
            let mark = Start::new(known.mark, known.custom.clone(), known.wants);
            let mark = Start { told: known.told, is_under_way: true, ..mark };
            self.others.extend_from_slice(&known.others);
            if self.goes_on_as_before(known, asks) {
                return Ok(Some(mark));
            }
            if !known.is_exact {
                // A state that was read is not exact to the bit.
                let orders = core::mem::take(&mut known.orders);
                let listener = core::mem::take(&mut self.listener);
                let shown = if known.is_written { self.read_again(&mark, &orders, known)? } else { None };
                let made = self.reach(&mark, &orders, self.start, None)?;
                (self.listener, known.orders) = (listener, orders);
                let Some((exact, made)) = made else { return Ok(None) };
                match shown {
                    Some(shown) => state = state.over(&shown, &exact),
                    None if known.is_written => {}
                    None => (state, custom) = (exact, made),
                }
            }
        }
        self.others.clear();
        state.clock = self.start.clock();
        Ok(Some(Start::new(state, custom, Wants::of(asks.intent))))
    }

    /// Makes `within` the region that has to stay unchanged; false if the terrain has no timetable there.
    fn hold(&mut self, within: Region) -> bool {
        if within != self.held.within {
            let held = self.tick.held(within, self.start);
            self.strays |= held.is_none();
            self.held = held.unwrap_or(self.held);
        }
        !self.strays
    }

    /// Goes from a mark to the next, as it was worked out before if it was.
    fn reach<M: CustomMode + Clone>(
        &mut self,
        from: &Start<M>,
        orders: &[Command],
        stop: Moment,
        known: Option<&mut UnderWay<M>>,
    ) -> Result<Option<(State, M)>, TickError> {
        // A listener needs the observations of the slice.
        let known = known.filter(|_| !self.listener.is_on());
        let plan = known.and_then(|known| {
            self.tell_planned(known, stop);
            known.plan.take()
        });
        if let Some(plan) = plan {
            self.hear(plan.telling, from.told);
            return Ok(Some((plan.end, plan.custom)));
        }
        let Some((state, custom, telling)) = self.slice(from, orders, stop)? else { return Ok(None) };
        self.hear(telling, from.told);
        let known = self.made_before(from.told.events);
        self.work.events.extend(self.work.made.drain(..).skip(known));
        Ok(Some((state, custom)))
    }

    /// Computes the slice from a mark to a moment; its events go into `work.made`.
    fn slice<M: CustomMode + Clone>(
        &mut self,
        from: &Start<M>,
        orders: &[Command],
        stop: Moment,
    ) -> Result<Option<Made<M>>, TickError> {
        let here = Moment::at(from.state.clock);
        let (intent, begins, dt) = (from.wants.intent(), here.since(self.start), stop.since(here));
        self.work.made.clear();
        let at_rest = || self.tick.is_rest_as_before(&from.state, &intent, orders, None);
        if from.custom.lets_rest() && !self.listener.is_on() && at_rest() {
            let state = State { clock: stop.clock(), ..from.state };
            self.work.laws.stand(&from.state, dt);
            return Ok(Some((state, from.custom.clone(), Telling::default())));
        }
        let is_cut = stop != here.next_stride();
        let known = self.work.sensing.stretches.len();
        self.work.take_asked();
        core::mem::swap(&mut self.work.events, &mut self.work.made);
        let listener = self.listener.lend();
        let (intent, changes) = (&intent, &*self.others);
        let slice = Slice { work: self.work, listener, intent, changes, commands: orders, dt, begins, is_cut };
        let made = self.tick.go(slice, &from.state, &from.custom);
        core::mem::swap(&mut self.work.events, &mut self.work.made);
        // No rounding puts them after the moment at which it ends.
        self.work.made.iter_mut().for_each(|event| event.time = event.time.min(stop.clock()));
        let made = made?;
        let asked = self.work.take_asked();
        if !self.held.within.holds(&asked) && !self.hold(self.held.within.and(asked)) {
            return Ok(None);
        }
        if begins != 0.0 {
            into_tick(&mut self.work.sensing.stretches, known, begins);
        }
        Ok(made.map(|(state, custom, telling)| {
            let mut state = State { clock: stop.clock(), ..state };
            state.rest = self.tick.remember(&from.state, &state, &asked, None);
            (state, custom, telling)
        }))
    }

    /// Adds what a slice tells to what the tick tells, but for what of it was told before.
    fn hear(&mut self, told: Telling, before: Told) -> Told {
        let (stepped, turned) = (self.telling.stepped, self.telling.turned);
        let (steps, turns) = (told.stepped - before.stepped, told.turned - before.turned);
        self.telling = Telling { stepped: stepped + steps, turned: turned + turns, ..told };
        Told { events: before.events, stepped: told.stepped, turned: told.turned }
    }
}
