//! The plan from one mark to the next: how it is made, and what a tick that ends within it shows.

use super::{Asks, Way};
use crate::command::Command;
use crate::error::TickError;
use crate::mode::CustomMode;
use crate::moment::Moment;
use crate::outcome::Telling;
use crate::run::sensing::Stretch;
use crate::state::State;
use crate::under_way::{Plan, Start, Told, UnderWay};

/// State shown at the end of a tick, and the motion in progress.
type Shown<M> = (State, M, Option<Box<UnderWay<M>>>);

impl Way<'_, '_, '_> {
    /// True if the tick ends before the next mark, inside a readable plan.
    pub(super) fn ends_within_plan<M: Clone>(&self, known: &UnderWay<M>, asks: &Asks<'_>) -> bool {
        let is_readable = known.plan.as_ref().is_some_and(|plan| plan.is_readable);
        is_readable
            && !self.listener.is_on()
            && asks.changes.is_empty()
            && self.end < Moment::at(known.mark.clock).next_stride()
            && self.held.is_as(&known.held)
            && self.goes_on_as_before(known, asks)
    }

    /// Reports the events of a readable plan up to the tick's end, and returns the state there.
    pub(super) fn read<M>(&mut self, known: &mut UnderWay<M>) -> State {
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

    /// The state at a tick's end between two marks, and the motion in progress there.
    pub(super) fn look<M: CustomMode + Clone>(
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

    /// Plans the motion to the next mark.
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

    /// The same, computed from the mark to the tick's end.
    fn shown<M: CustomMode + Clone>(
        &mut self,
        from: &Start<M>,
        orders: &[Command],
        mut known: Box<UnderWay<M>>,
    ) -> Result<Option<Shown<M>>, TickError> {
        let Some((state, custom, telling)) = self.slice(from, orders, self.end)? else { return Ok(None) };
        let told = self.hear(telling, from.told);
        // A plan reports its own events.
        if known.plan.is_none() {
            known.told.events = self.work.made.len();
            self.work.events.append(&mut self.work.made);
        }
        known.told = Told { events: known.told.events, ..told };
        (known.is_exact, known.held) = (true, self.held);
        Ok(Some((state, custom, Some(known))))
    }

    /// The state that the last tick read from the laws.
    pub(super) fn read_again<M: CustomMode + Clone>(
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

    /// Reports the events of a plan up to a moment, and adds its way to that of the tick.
    pub(super) fn tell_planned<M>(&mut self, known: &mut UnderWay<M>, until: Moment) {
        let Some(plan) = &known.plan else { return };
        // An event at the very end of a tick waits: a change at that moment could replace it.
        let ends = until == Moment::at(known.mark.clock).next_stride();
        let now = known.events.iter().take_while(|event| ends || Moment::at(event.time) < until).count();
        self.work.events.extend(known.events.drain(..now));
        known.told.events += now;
        let mark = Moment::at(known.mark.clock);
        // After the first decisions of a slice that can be read the shape stays the same.
        let figure = self.tick.figure(&plan.end);
        if plan.is_readable {
            let (from, to) = (self.start.since(mark).max(0.0), until.since(mark));
            let begins = mark.since(self.start);
            let parts = known.laws.between(from, to).map(|[a, b]| Stretch::way(figure, begins, a, b));
            self.work.sensing.stretches.extend(parts);
        } else if ends {
            let Some(last) = self.work.sensing.stretches.last().copied() else { return };
            let start = (last.to, last.end + last.feet, last.last_velocity);
            let end = (until.since(self.start), plan.end.position, plan.end.velocity);
            self.work.sensing.stretches.push(Stretch::way(figure, 0.0, start, end));
        }
    }

    /// Number of events of a slice that earlier ticks reported: at most `told`, and none after the tick's start.
    pub(super) fn made_before(&self, told: usize) -> usize {
        let past = self.work.made.iter().filter(|event| Moment::at(event.time) <= self.start).count();
        past.min(told)
    }
}
