//! Going along a route: a driver. It plans when it has to, rounds corners, stops where a link begins, plays it, and stops at the end.

mod plans;

use newel::glam::DVec3;
use newel::{Barred, Before, Change, GoEnd, GoTo, Heading, Intent, Mode, OwnHeading, State, Terrain, Timed};

use self::plans::{Plan, Planned};
use crate::planning::Planning;
use crate::route::{By, Leg, Route, Short};
use crate::routes::Routes;
use crate::travel::{AfterLast, Stop, Travel, TripEnd};

/// A corner that it is past, and within this of it, metres, is behind it; and so is one this near.
const PAST: f64 = 0.8;
const ALL_BUT: f64 = 0.05;
/// A corner that is come to more slowly than this, m/s, is not rounded.
const SLOW: f64 = 0.1;
/// A turn of less than this part is none: its cosine.
const STRAIGHT_ON: f64 = 0.9998;
/// A turn is sharp from this cosine down, and wants this many times the way it takes to stop behind it.
const SHARP: f64 = 0.95;
const ROOM_TO_STOP: f64 = 1.8;
/// A link is given up so much later than it should have ended, seconds.
const LINK_LATE: f64 = 1.5;
/// No link takes longer, seconds.
const LINK_LONGEST: f64 = 20.0;
/// A place moved by no more than this, metres, since it was planned for can be headed for on the last leg.
const MOVED: f64 = 2.0;
/// A leg may take so many times as long as it should, and so many seconds more.
const LATE_PART: f64 = 4.0;
const LATE: f64 = 6.0;
/// Distance ahead in which obstacles without contact are searched, metres.
const AHEAD: f64 = 0.5;
/// Where the terrain is found to have changed, what is this near, metres, is surveyed anew.
const ANEW: f64 = 1.0;
/// So near to the straight of its leg, metres, it goes where it was walked to try it; and so long, seconds, without the guard.
const ON_ITS_LEG: f64 = 0.05;
const TRUSTS: f64 = 0.3;
/// Where a route leads only so far, it plans on from its end where that is so much nearer, metres.
const WORTH_GOING_ON: f64 = 1.0;
/// It stands where a link begins where it is this near, metres.
const AT_LINK: f64 = 5e-4;

/// Goes to a place by a route, or to several one after another: the driver for a click, and for an agent that knows its way.
///
/// It plans as it is driven: where it is told a place, where the terrain is said to have changed, and where something is in its way. How it
/// ended is handed out once, by [`Trip::take_end`]. The place may be set anew at any moment.
#[derive(Clone, Debug)]
pub struct Trip {
    /// How it travels; may be changed on the way.
    pub travel: Travel,
    stops: Vec<Stop>,
    after: AfterLast,
    /// Which stop it is going to, and the way through them.
    next: usize,
    back: bool,
    goal: Option<DVec3>,
    route: Option<Route>,
    leg: usize,
    /// When the link under way began, and whether it has left the ground since.
    link: Option<(f64, bool)>,
    going: GoTo,
    planned: Plan,
    planning: Option<Box<Planning>>,
    /// Where something was in the way to this place, each time it looked for another.
    avoids: Vec<DVec3>,
    waits_until: Option<f64>,
    /// When it began the leg it is on, and where; nothing before it is first driven along it.
    leg_began: Option<(f64, DVec3)>,
    /// Since when it has been on no ground to plan from.
    aloft_since: Option<f64>,
    /// Until when the guard is off, because it holds back where there is ground.
    trusts_until: f64,
    ended: Option<TripEnd>,
}

/// The routes it travels on.
#[derive(Clone, Copy)]
struct On<'a> {
    terrain: &'a dyn Terrain,
    routes: &'a Routes,
}

impl Trip {
    /// One that goes nowhere yet.
    #[must_use]
    pub fn new(travel: Travel) -> Trip {
        Trip {
            travel,
            stops: Vec::new(),
            after: AfterLast::Ends,
            next: 0,
            back: false,
            goal: None,
            route: None,
            leg: 0,
            link: None,
            going: GoTo::new(travel.going),
            planned: Plan::default(),
            planning: None,
            avoids: Vec::new(),
            waits_until: None,
            leg_began: None,
            aloft_since: None,
            trusts_until: f64::NEG_INFINITY,
            ended: None,
        }
    }

    /// Goes to `place` from now on, in the world, metres. It forgets how it last ended, and all stops. A place that moves may be given anew
    /// each tick.
    pub fn go(&mut self, place: DVec3) {
        if self.goal.is_none() {
            *self = Trip::new(self.travel);
        }
        self.stops.clear();
        (self.ended, self.waits_until) = (None, None);
        // An obstacle at the place stays, however often the place is given.
        if (place - self.goal.unwrap_or(place)).length() > MOVED {
            self.avoids.clear();
        }
        self.goal = Some(place);
    }

    /// Goes from stop to stop.
    pub fn follow(&mut self, stops: &[Stop], after: AfterLast) {
        *self = Trip::new(self.travel);
        self.stops = stops.to_vec();
        self.after = after;
        self.goal = stops.first().map(|stop| stop.place);
    }

    /// Calls it off: it stops as it does without input.
    pub fn cancel(&mut self) {
        if self.goal.is_some() {
            self.end(TripEnd::Cancelled);
        }
        self.going.cancel();
    }

    /// Where it is going, if anywhere.
    #[must_use]
    pub fn place(&self) -> Option<DVec3> {
        self.goal
    }

    /// The route it is on.
    #[must_use]
    pub fn route(&self) -> Option<&Route> {
        self.route.as_ref()
    }

    /// Which leg of it, from 0.
    #[must_use]
    pub fn leg(&self) -> usize {
        self.leg
    }

    /// Which of its stops it is going to, from 0.
    #[must_use]
    pub fn stop(&self) -> usize {
        self.next
    }

    /// How it ended, told once.
    pub fn take_end(&mut self) -> Option<TripEnd> {
        self.ended.take()
    }

    /// The intent for the next tick of a character: the player's `own` with the heading of the trip.
    pub fn drive<M>(&mut self, own: Intent, me: &Before<'_, M>, terrain: &dyn Terrain, routes: &Routes) -> Intent {
        let on = On { terrain, routes };
        let going = self.travel.going;
        self.going.going = going;
        let Some(goal) = self.goal else { return self.going.drive(own, me, me.last) };
        let leads = own.pressed_heading() > going.own_from.max(0.0) && going.own_heading != OwnHeading::Ignored;
        if leads {
            if going.own_heading == OwnHeading::Cancels {
                self.end(TripEnd::Overruled);
            }
            (self.route, self.link) = (None, None);
            return own;
        }
        if self.stands_still(me.clock) {
            return own;
        }
        if self.link.is_none() && self.needs_plan(goal, me, routes) {
            match self.plan(goal, me, on) {
                Planned::No => return self.going.drive(own, me, me.last),
                Planned::Later if self.route.is_none() => return own,
                Planned::Later | Planned::Route => {}
            }
        } else {
            // A plan in progress belongs to an older moment.
            self.planning = None;
        }
        self.aloft_since = None;
        let mut intent = self.follow_route(own, me, on);
        intent.guard |= self.travel.guard && self.link.is_none() && !self.trusts_its_leg(me, routes);
        intent
    }

    /// True where the guard holds it back on a way that was walked without one: on the straight of its leg there is ground.
    fn trusts_its_leg<M>(&mut self, me: &Before<'_, M>, routes: &Routes) -> bool {
        let at_edge = me.last.and_then(|last| last.barred).is_some_and(|by| by.edge);
        let Some(leg) = self.current() else { return false };
        let from = self.leg_from(me);
        let frame = routes.frame();
        let way = frame.direction(leg.to - from).unwrap_or_default();
        let off = me.position - from;
        let aside = frame.direction(off).map_or(0.0, |_| frame.across(off - way * off.dot(way), DVec3::ZERO));
        if at_edge && aside <= ON_ITS_LEG {
            self.trusts_until = me.clock + TRUSTS;
        }
        me.clock < self.trusts_until
    }

    /// True while it waits at a stop.
    fn stands_still(&mut self, clock: f64) -> bool {
        let Some(until) = self.waits_until else { return false };
        if clock >= until {
            self.waits_until = None;
        }
        clock < until
    }

    fn follow_route<M>(&mut self, own: Intent, me: &Before<'_, M>, on: On<'_>) -> Intent {
        let Some(leg) = self.current() else { return self.at_the_end(own, me, on.routes) };
        match leg.by {
            By::Link(_, script) => {
                let (began, left) = self.link.unwrap_or((me.clock, false));
                let since = me.clock - began;
                let left = left || me.mode != Mode::Ground;
                self.link = Some((began, left));
                let near = on.routes.frame().across(me.position, leg.to) < 1.0;
                let down = me.mode == Mode::Ground && since > 0.0 && left;
                if down && near {
                    self.take_next_leg();
                    return self.follow_route(own, me, on);
                }
                let hangs = me.mode == Mode::Ledge && !me.phase.is_ledge_move();
                let late = since > LINK_LONGEST || (!left && since > script.jumps.unwrap_or(0.0) + LINK_LATE);
                if down || late {
                    return self.look_for_another_way(own, me, None, on);
                }
                script.intent(own, since, me.dt, hangs)
            }
            By::Swimming => self.walk(own, me, leg, on),
            By::Walking(stance) => {
                let mut own = own;
                own.stance = own.stance.max(stance);
                self.walk(own, me, leg, on)
            }
        }
    }

    fn current(&self) -> Option<Leg> {
        self.route.as_ref().and_then(|route| route.legs.get(self.leg)).copied()
    }

    fn take_next_leg(&mut self) {
        self.leg += 1;
        (self.link, self.leg_began) = (None, None);
        if let Some(leg) = self.current() {
            self.going.go(leg.to);
        }
    }

    fn walk<M>(&mut self, own: Intent, me: &Before<'_, M>, leg: Leg, on: On<'_>) -> Intent {
        if self.is_late(me, leg, on.routes) {
            return self.look_for_another_way(own, me, None, on);
        }
        let next = self.route.as_ref().and_then(|route| route.legs.get(self.leg + 1)).copied();
        let (walks_on, links_on) = match next.map(|next| next.by) {
            Some(By::Walking(_)) => (true, false),
            Some(By::Link(..)) => (false, true),
            Some(By::Swimming) | None => (false, false),
        };
        let goal = self.goal.filter(|_| next.is_none() && self.is_short().is_none());
        if let Some(goal) = goal.filter(|goal| *goal != self.planned.goal) {
            self.going.go(goal);
        }
        // A heading that leads up or down would make it dive.
        if leg.by == By::Swimming {
            let (frame, to) = (on.routes.frame(), goal.unwrap_or(leg.to));
            self.going.go(frame.place(frame.map(to), frame.height(me.position)));
        }
        // At a link it has to stand where that begins.
        self.going.going.radius = if links_on { AT_LINK } else { self.travel.going.radius };
        let mut intent = self.going.drive(own, me, me.last);
        match self.going.take_end() {
            Some(GoEnd::Arrived { .. }) => {
                if next.is_some() {
                    self.take_next_leg();
                    return self.follow_route(own, me, on);
                }
                self.arrive(me, on.routes);
                return intent;
            }
            Some(GoEnd::Blocked { by, .. }) => return self.look_for_another_way(own, me, Some(by), on),
            Some(_) => return self.look_for_another_way(own, me, None, on),
            None => {}
        }
        if walks_on && let Some(next) = next {
            self.round(&mut intent, me, (leg, next.to), on.routes);
        }
        intent
    }

    /// True where a leg has taken far longer than it should: up a slope that it slips down again, say.
    fn is_late<M>(&mut self, me: &Before<'_, M>, leg: Leg, routes: &Routes) -> bool {
        let (began, from) = *self.leg_began.get_or_insert((me.clock, me.position));
        let slow = f64::from(self.travel.going.speed.clamp(0.01, 1.0));
        let low = routes.tuning().low(me.stance).map_or(1.0, |low| f64::from(low.speed));
        let values = routes.tuning().values();
        let swims = values.swim.filter(|_| leg.by == By::Swimming).map(|swim| swim.speed);
        let speed = f64::from(swims.unwrap_or(values.ground.speed)).max(0.01) * slow * low.max(0.01);
        me.clock - began > LATE + LATE_PART * (leg.to - from).length() / speed
    }

    /// Goes on toward a corner without slowing down, and turns so that it comes out of the turn on the leg after it: its velocity goes from
    /// one to the other at a steady rate, so the way is a parabola that touches both legs as far from the corner.
    fn round<M>(&mut self, intent: &mut Intent, me: &Before<'_, M>, (leg, after): (Leg, DVec3), routes: &Routes) {
        let (frame, corner) = (routes.frame(), leg.to);
        let speed = f64::from(self.travel.going.speed.clamp(0.0, 1.0));
        let Some(before) = frame.direction(corner - me.position) else { return self.take_next_leg() };
        let Some(onward) = frame.direction(after - corner) else { return self.take_next_leg() };
        let left = frame.across(corner, me.position);
        let fast = own_velocity(me).dot(before);
        let cosine = before.dot(onward).clamp(-1.0, 1.0);
        let half = ((1.0 - cosine) * 0.5).sqrt();
        let rate = f64::from(routes.tuning().values().ground.acceleration).max(0.1);
        // So near to where it is to stop that it could not out of this turn: it stops at the corner.
        let slowing = fast * fast / (2.0 * f64::from(routes.tuning().values().ground.deceleration).max(0.1));
        if cosine < SHARP && self.left_after(routes) < ROOM_TO_STOP * slowing {
            return;
        }
        let turns = (fast * fast * half / rate).min(self.travel.rounds.max(0.0)).min(leg.rounds);
        let turns = if fast < SLOW || cosine > STRAIGHT_ON { 0.0 } else { turns };
        intent.heading = Heading::World((before * speed).as_vec3());
        // Carried past the corner, or all but there, it goes on: it would go round it for ever.
        let past = left < PAST && (me.position - corner).dot(onward) > 0.0;
        if past || left < ALL_BUT {
            intent.heading = Heading::World((onward * speed).as_vec3());
            return self.take_next_leg();
        }
        let due = if fast > SLOW {
            (left - turns) / fast
        } else if left < AT_LINK {
            0.0
        } else {
            f64::INFINITY
        };
        if due < me.dt {
            let turn = Timed { at: due.max(0.0), change: Change::Heading(Heading::World((onward * speed).as_vec3())) };
            *intent = intent.also(turn).unwrap_or(*intent);
            self.take_next_leg();
        }
    }

    /// The way left after the leg it is on to where it is to stop, metres over the map.
    fn left_after(&self, routes: &Routes) -> f64 {
        let Some(route) = &self.route else { return 0.0 };
        let walked = route.legs[self.leg + 1..].iter().take_while(|leg| matches!(leg.by, By::Walking(_)));
        let mut at = route.legs[self.leg].to;
        walked.map(|leg| routes.frame().across(core::mem::replace(&mut at, leg.to), leg.to)).sum()
    }

    /// It has come to the end of its route with no leg left: it stands where it is to be.
    fn at_the_end<M>(&mut self, own: Intent, me: &Before<'_, M>, routes: &Routes) -> Intent {
        self.arrive(me, routes);
        self.going.drive(own, me, me.last)
    }

    fn is_short(&self) -> Option<Short> {
        self.route.as_ref().and_then(|route| route.short)
    }

    fn arrive<M>(&mut self, me: &Before<'_, M>, routes: &Routes) {
        let goal = self.goal.unwrap_or(me.position);
        let (left, off) = ((goal - me.position).length(), routes.frame().across(goal, me.position));
        if let Some(why) = self.is_short() {
            // From the end of the best part of the way it looks on.
            let gained = self.route.as_ref().map_or(0.0, |route| (route.from - goal).length() - left);
            if why == Short::TooFar && gained > WORTH_GOING_ON {
                (self.route, self.link) = (None, None);
                return;
            }
            return self.end(TripEnd::Short { why, left });
        }
        let Some(stop) = self.stops.get(self.next).copied() else { return self.end(TripEnd::Arrived { off }) };
        let Some(next) = self.stop_after() else { return self.end(TripEnd::Arrived { off }) };
        self.next = next;
        self.goal = Some(self.stops[next].place);
        (self.route, self.link) = (None, None);
        self.avoids.clear();
        self.waits_until = Some(me.clock + stop.waits.max(0.0)).filter(|_| stop.waits > 0.0);
    }

    fn stop_after(&mut self) -> Option<usize> {
        let last = self.stops.len() - 1;
        match self.after {
            AfterLast::Ends => Some(self.next + 1).filter(|n| *n <= last),
            AfterLast::Again => Some((self.next + 1) % (last + 1)),
            AfterLast::Back => {
                self.back = if self.next == 0 { false } else { self.back || self.next == last };
                Some(if self.back { self.next - 1 } else { (self.next + 1).min(last) })
            }
        }
    }

    fn look_for_another_way<M>(&mut self, own: Intent, me: &Before<'_, M>, by: Option<Barred>, on: On<'_>) -> Intent {
        let left = self.goal.map_or(0.0, |goal| (goal - me.position).length());
        if self.avoids.len() >= self.travel.other_ways as usize {
            self.end(by.map_or(TripEnd::NoNearer { left }, |by| TripEnd::Blocked { by, left }));
            return own;
        }
        // An obstacle without contact is somewhere ahead; a link that failed leads nowhere.
        let ahead = |leg: Leg| match leg.by {
            By::Link(..) => leg.to,
            By::Walking(_) | By::Swimming => {
                me.position + on.routes.frame().direction(leg.to - me.position).unwrap_or_default() * AHEAD
            }
        };
        let place = by.map(|by| by.point).or(self.current().map(ahead)).unwrap_or(me.position);
        match self.current() {
            // The leg itself can no longer be walked: the terrain is not what was surveyed.
            Some(Leg { to, by: By::Walking(stance), .. })
                if !on.routes.still_walks(on.terrain, self.leg_from(me), to, stance) =>
            {
                on.routes.changed(place - DVec3::splat(ANEW), place + DVec3::splat(ANEW));
            }
            _ => {}
        }
        self.avoids.push(place);
        (self.route, self.link) = (None, None);
        own
    }

    /// Where the leg it is on begins.
    fn leg_from(&self, me: &State) -> DVec3 {
        let Some(route) = &self.route else { return me.position };
        self.leg.checked_sub(1).map_or(route.from, |before| route.legs[before].to)
    }

    fn end(&mut self, end: TripEnd) {
        let going = self.going;
        *self = Trip { ended: Some(end), going, ..Trip::new(self.travel) };
    }
}

/// Its velocity against what carries it, m/s.
fn own_velocity(me: &State) -> DVec3 {
    me.velocity - me.carried.as_dvec3()
}
