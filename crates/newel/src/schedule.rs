//! When motion is decided: at moments of a fixed grid, and where something changes. A tick's end is no such moment.
//!
//! Where the terrain's answers are laid down for all time, motion is worked out from one mark to the next: a moment of the grid, or one at
//! which what is wanted changes. A tick that ends in between reads what was worked out, or, where that is no closed law, works it out
//! again as far as it shows. So the same wishes at the same times lead to the same bits, whatever the tick rate. On terrain that may
//! change in any way, every tick's end is a mark: what was there before it cannot be asked for again.

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
use crate::run::sensing::{Stretch, into_tick};
use crate::state::State;
use crate::step::{Slice, Tick};
use crate::under_way::{Held, Plan, Start, Told, UnderWay};
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
        state.rest = self.remember(&character.state, &state, &work.take_asked());
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

/// State shown at the end of a tick, and the motion in progress.
type Shown<M> = (State, M, Option<Box<UnderWay<M>>>);

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

    /// True where the tick ends before the next mark, on a way that is planned and can be read.
    fn ends_within_plan<M: Clone>(&self, known: &UnderWay<M>, asks: &Asks<'_>) -> bool {
        let is_readable = known.plan.as_ref().is_some_and(|plan| plan.is_readable);
        is_readable
            && !self.listener.is_on()
            && asks.changes.is_empty()
            && self.end < Moment::at(known.mark.clock).next_stride()
            && self.held.is_as(&known.held)
            && self.goes_on_as_before(known, asks)
    }

    /// Tells what happens up to the tick's end on a way that is planned and can be read, and returns the state there.
    fn read<M>(&mut self, known: &mut UnderWay<M>) -> State {
        self.tell_planned(known, self.end);
        known.is_exact = false;
        let Some(plan) = &known.plan else { return known.mark };
        let mark = Moment::at(known.mark.clock);
        let (t, turned) = (self.end.since(mark), plan.telling.turned);
        let state = known.laws.read(&known.mark, &plan.end, turned, t);
        let turned = known.laws.turned_after(turned, t, mark.next_stride().since(mark));
        let before = known.told;
        let telling = Telling { stepped: before.stepped, turned, ..plan.telling };
        known.told = Told { events: before.events, ..self.hear(telling, before) };
        State { clock: self.end.clock(), ..state }
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

    /// The state that the last tick read from the laws.
    fn read_again<M: CustomMode + Clone>(
        &mut self,
        mark: &Start<M>,
        orders: &[Command],
        known: &mut UnderWay<M>,
    ) -> Result<Option<State>, TickError> {
        if known.plan.is_none() && self.plan(mark, orders, known)?.is_none() {
            return Ok(None);
        }
        let Some(plan) = known.plan.as_ref().filter(|plan| plan.is_readable) else { return Ok(None) };
        let t = self.start.since(Moment::at(mark.state.clock));
        let state = known.laws.read(&mark.state, &plan.end, plan.telling.turned, t);
        Ok(Some(State { clock: self.start.clock(), ..state }))
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

    /// Shows where motion leads that is under way when the tick ends.
    fn look<M: CustomMode + Clone>(
        &mut self,
        from: Start<M>,
        orders: &[Command],
        known: Option<Box<UnderWay<M>>>,
    ) -> Result<Option<Shown<M>>, TickError> {
        let here = Moment::at(from.state.clock);
        let mut known = known.unwrap_or_else(|| Box::new(UnderWay::new(&from.state, &from.custom, self.held)));
        if !from.is_under_way {
            known.begin((&from.state, &from.custom), (from.wants, &self.others), orders, self.held);
            // An intent that changes every tick is not planned ahead.
            if here == self.start && !here.is_stride() {
                return self.shown(&from, orders, known);
            }
        }
        if known.plan.is_none() && self.plan(&from, orders, &mut known)?.is_none() {
            return Ok(None);
        }
        // A listener needs the observations of the slice.
        let is_heard = self.listener.is_on();
        if let Some(plan) = &mut known.plan {
            plan.is_readable &= !is_heard;
            if plan.is_readable {
                return Ok(Some((self.read(&mut known), from.custom, Some(known))));
            }
        }
        self.tell_planned(&mut known, self.end);
        self.shown(&from, orders, known)
    }

    /// The same worked out as far as it shows.
    fn shown<M: CustomMode + Clone>(
        &mut self,
        from: &Start<M>,
        orders: &[Command],
        mut known: Box<UnderWay<M>>,
    ) -> Result<Option<Shown<M>>, TickError> {
        let Some((state, custom, telling)) = self.slice(from, orders, self.end)? else { return Ok(None) };
        let told = self.hear(telling, from.told);
        // Where all of it was worked out, that says what happens.
        if known.plan.is_none() {
            known.told.events = self.work.made.len();
            self.work.events.append(&mut self.work.made);
        }
        known.told = Told { events: known.told.events, ..told };
        (known.is_exact, known.held) = (true, self.held);
        Ok(Some((state, custom, Some(known))))
    }

    /// Works motion out to the next mark.
    fn plan<M: CustomMode + Clone>(
        &mut self,
        from: &Start<M>,
        orders: &[Command],
        known: &mut UnderWay<M>,
    ) -> Result<Option<()>, TickError> {
        let stretches = self.work.sensing.stretches.len();
        let stop = Moment::at(from.state.clock).next_stride();
        let is_heard = self.listener.is_on();
        let listener = core::mem::take(&mut self.listener);
        let made = self.slice(from, orders, stop)?;
        self.listener = listener;
        let Some((end, custom, telling)) = made else { return Ok(None) };
        let past = self.made_before(known.told.events);
        known.events.clear();
        known.events.extend(self.work.made.drain(..).skip(past));
        self.work.sensing.stretches.truncate(stretches);
        known.laws.copy(&self.work.laws);
        let is_readable = from.custom.lets_rest() && !is_heard && known.laws.lead_from(&from.state, &end);
        (known.plan, known.held) = (Some(Plan { end, custom, telling, is_readable }), self.held);
        Ok(Some(()))
    }

    /// Tells what happens on a planned way up to a moment, and where it goes.
    fn tell_planned<M>(&mut self, known: &mut UnderWay<M>, until: Moment) {
        let Some(plan) = &known.plan else { return };
        // An event at the very end of a tick waits: a change at that moment could replace it.
        let ends = until == Moment::at(known.mark.clock).next_stride();
        let now = known.events.iter().take_while(|event| ends || Moment::at(event.time) < until).count();
        self.work.events.extend(known.events.drain(..now));
        known.told.events += now;
        let mark = Moment::at(known.mark.clock);
        let figure = self.tick.figure(&known.mark);
        if plan.is_readable {
            let (from, to) = (self.start.since(mark).max(0.0), until.since(mark));
            let begins = mark.since(self.start);
            let parts = known.laws.between(from, to).map(|[a, b]| Stretch::way(figure, begins, a, b));
            self.work.sensing.stretches.extend(parts);
        } else if ends {
            let Some(last) = self.work.sensing.stretches.last().copied() else { return };
            let end = (until.since(self.start), plan.end.position, plan.end.velocity);
            let part = Stretch::way(
                self.tick.figure(&plan.end),
                0.0,
                (last.to, last.end + last.feet, last.last_velocity),
                end,
            );
            self.work.sensing.stretches.push(part);
        }
    }

    /// How many of the events of a slice were told before: at most so many, of what there was up to the tick's start.
    fn made_before(&self, told: usize) -> usize {
        let past = self.work.made.iter().filter(|event| Moment::at(event.time) <= self.start).count();
        past.min(told)
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
        let at_rest = || self.tick.is_rest_as_before(&from.state, &intent, orders);
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
            state.rest = self.tick.remember(&from.state, &state, &asked);
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
