//! When a trip plans its route, and how much of that in a tick.

use newel::glam::DVec3;
use newel::{Before, Character, Mode};

use super::{MOVED, On, Trip};
use crate::planning::Planning;
use crate::routes::Routes;
use crate::travel::TripEnd;

/// A character without ground to plan from for this long stays where it is, seconds.
const NO_GROUND: f64 = 5.0;
/// A place that moved by more than this part of the way there is another place: planning begins anew.
const MOVED_PART: f64 = 0.25;

/// Result of planning in a tick.
pub(super) enum Planned {
    /// There is a route.
    Route,
    /// It takes more ticks.
    Later,
    /// There is none: the trip has ended, or waits until there is ground to plan from.
    No,
}

/// Inputs that the route was planned for.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Plan {
    pub goal: DVec3,
    pub at: f64,
    pub changes: u64,
}

impl Trip {
    pub(super) fn needs_plan<M>(&self, goal: DVec3, me: &Before<'_, M>, routes: &Routes) -> bool {
        let moved = (goal - self.planned.goal).length();
        let due = me.clock - self.planned.at >= self.travel.plans_every;
        self.route.is_none() || self.planned.changes != routes.changes() || (moved > 0.0 && due) || moved > MOVED
    }

    /// Plans the way there, as far as its share for this tick reaches.
    pub(super) fn plan<M>(&mut self, goal: DVec3, me: &Before<'_, M>, on: On<'_>) -> Planned {
        let On { terrain, routes } = on;
        if matches!(me.mode, Mode::Air | Mode::Slide | Mode::Ledge) {
            return self.wait_for_ground(goal, me);
        }
        self.aloft_since = None;
        // A place that moves a little is planned to the end first: else one that keeps moving would never be.
        let far = (goal - me.position).length();
        let is_meant = |planning: &Planning| (planning.to() - goal).length() <= MOVED.max(MOVED_PART * far);
        let begins = !self.planning.as_deref().is_some_and(is_meant);
        if begins {
            self.planning = Some(Box::new(match me.mode {
                Mode::Ground | Mode::Swim => Planning::of(&Character::from(*me.state()), goal, self.avoids.clone()),
                _ => Planning::new(me.position, goal),
            }));
        }
        // By sixtieths of a second of the game's time, so that tick rates plan alike.
        let sixtieths = |clock: f64| (clock * 60.0 + 1e-6).floor();
        let share = (sixtieths(me.clock) - sixtieths(me.clock - me.dt)) as usize;
        let share = share.max(usize::from(begins)).saturating_mul(self.travel.places);
        let Some(planning) = self.planning.as_mut().filter(|_| share > 0) else { return Planned::Later };
        let Some(made) = routes.plan(terrain, planning, share) else { return Planned::Later };
        let goal = planning.to();
        self.planning = None;
        self.planned = Plan { goal, at: me.clock, changes: routes.changes() };
        (self.leg, self.link, self.leg_began) = (0, None, None);
        match made {
            Err(why) => self.end(TripEnd::NoPlace(why)),
            Ok(route) => match route.short.filter(|_| !self.travel.as_near_as_can) {
                Some(why) => self.end(TripEnd::Short { why, left: (me.position - goal).length() }),
                None => self.route = Some(route),
            },
        }
        if let Some(leg) = self.route.as_ref().and_then(|route| route.legs.first()) {
            self.going.go(leg.to);
        }
        if self.route.is_some() { Planned::Route } else { Planned::No }
    }

    /// In the air it waits until it is down.
    fn wait_for_ground<M>(&mut self, goal: DVec3, me: &Before<'_, M>) -> Planned {
        let since = *self.aloft_since.get_or_insert(me.clock);
        if me.clock - since > NO_GROUND {
            self.end(TripEnd::NoNearer { left: (goal - me.position).length() });
        }
        Planned::No
    }
}
