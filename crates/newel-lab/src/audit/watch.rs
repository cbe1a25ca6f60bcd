//! Watches a character tick by tick and collects what a player would notice.

use std::collections::BTreeMap;

use newel::glam::DVec3;
use newel::{CoarseDirection, Event, EventKind, State, Tuning};

use super::feet::Feet;
use super::finding::{Finding, FindingKind};
use super::moment::Moment;
use super::outline::depth;
use super::progress::Progress;
use super::steps::is_false;
use crate::names::event_name;

/// A flurry is more events of one kind than this within a second.
const FLURRY: usize = 10;

/// Collects findings over a run.
#[derive(Debug, Default)]
pub struct Watch {
    findings: Vec<Finding>,
    feet: Feet,
    progress: Progress,
    /// The last moments of each kind of event.
    recent: BTreeMap<&'static str, Vec<(f64, DVec3)>>,
    overlaps: bool,
    floats: bool,
}

impl Watch {
    /// A watch that has seen nothing.
    #[must_use]
    pub fn new() -> Watch {
        Watch::default()
    }

    /// Looks at one tick. Returns how deep the shape is in the deepest triangle, in metres.
    pub fn look(&mut self, moment: &Moment<'_>) -> f64 {
        let Moment { after, tuning, surface, events, .. } = *moment;
        let shape = tuning.shape_in(after.stance);
        let skin = f64::from(shape.skin());
        let deep = depth(surface, feet_of(after, tuning), after.axis.as_dvec3(), after.keeps.normal.as_dvec3(), &shape);
        let told =
            |e: &Event| matches!(e.kind, EventKind::Crushed { .. } | EventKind::Stuck | EventKind::PushedOut { .. });
        // The crushed are reported 120 times a second, and stay so between.
        let is_crushed = after.pressed != CoarseDirection::default();
        let overlaps = deep > skin && !is_crushed && !events.iter().any(told);
        self.spell(overlaps, |watch| &mut watch.overlaps, moment, FindingKind::Overlap { depth: deep });
        let gap = self.feet.gap(moment).filter(|gap| *gap > skin);
        self.spell(gap.is_some(), |watch| &mut watch.floats, moment, FindingKind::Float { gap: gap.unwrap_or(0.0) });
        self.feet.look(moment);
        for event in events {
            self.look_at_event(moment, event);
        }
        if let Some(seconds) = self.progress.look(moment) {
            self.add(moment, FindingKind::NoProgress { seconds });
        }
        deep
    }

    /// All findings in the order of their times.
    #[must_use]
    pub fn finish(mut self) -> Vec<Finding> {
        self.findings.extend(self.feet.pops());
        self.findings.sort_by(|a, b| a.time.total_cmp(&b.time));
        self.findings
    }

    fn look_at_event(&mut self, moment: &Moment<'_>, event: &Event) {
        let lasts = |kind: &EventKind| {
            matches!(
                kind,
                EventKind::Footstep { .. } | EventKind::Crushed { .. } | EventKind::Stuck | EventKind::PushedOut { .. }
            )
        };
        if !lasts(&event.kind) && self.is_flurry(moment, event) {
            self.findings.push(Finding {
                time: event.time,
                place: event.place,
                kind: FindingKind::Flurry { event: event_name(&event.kind) },
            });
        }
        let kind = match event.kind {
            EventKind::Stepped { height } if is_false(moment, height) => {
                Some(FindingKind::FalseStep { height: f64::from(height) })
            }
            EventKind::LeftGround { .. } => {
                Feet::walkable_below(moment, event).map(|below| FindingKind::LostGround { below })
            }
            _ => None,
        };
        self.findings.extend(kind.map(|kind| Finding { time: event.time, place: event.place, kind }));
    }

    /// True once where this is one event of its kind too many. Steps count only where a foot has no room to take them: within a
    /// radius of the step before.
    fn is_flurry(&mut self, moment: &Moment<'_>, event: &Event) -> bool {
        let radius = f64::from(moment.tuning.shape().radius);
        let recent = self.recent.entry(event_name(&event.kind)).or_default();
        recent.retain(|(time, _)| event.time - time < 1.0);
        let apart = recent.last().is_some_and(|(_, place)| (event.place - *place).length() > radius);
        if apart && matches!(event.kind, EventKind::Stepped { .. }) {
            recent.clear();
        }
        recent.push((event.time, event.place));
        recent.len() == FLURRY + 1
    }

    /// Notes a finding at the first tick of a spell of ticks.
    fn spell(&mut self, so: bool, flag: impl Fn(&mut Watch) -> &mut bool, moment: &Moment<'_>, kind: FindingKind) {
        if so && !*flag(self) {
            self.add(moment, kind);
        }
        *flag(self) = so;
    }

    fn add(&mut self, moment: &Moment<'_>, kind: FindingKind) {
        let State { clock: time, position: place, .. } = *moment.after;
        self.findings.push(Finding { time, place, kind });
    }
}

/// Where the feet of a character are that may not be upright.
fn feet_of(state: &State, tuning: &Tuning) -> DVec3 {
    newel::Character::from(*state).feet(tuning)
}

#[cfg(test)]
mod tests {
    use newel::glam::Vec3;
    use newel::{Character, Mesh, Scene, When};

    use super::*;
    use crate::audit::Surface;

    /// Findings when a character on a floor moves by `by` in one tick and reports `events`, `ticks` times over.
    fn found(by: DVec3, events: &[Event], wish: impl Fn(u32) -> Vec3, ticks: u32) -> Vec<&'static str> {
        let corners = [[-9.0, 0.0, -9.0], [9.0, 0.0, -9.0], [0.0, 0.0, 9.0f64]];
        let scene = Scene::new().with(Mesh::new(&corners, &[0, 1, 2]).unwrap());
        let (surface, tuning) = (Surface::of(&scene), Tuning::walker());
        let before = *Character::spawn(&scene, &tuning, [0.0; 3]).unwrap().state();
        let mut watch = Watch::new();
        for tick in 0..ticks {
            let clock = f64::from(tick + 1) / 60.0;
            let after = State { position: before.position + by, clock, ..before };
            watch.look(&Moment {
                terrain: &scene,
                surface: &surface,
                tuning: &tuning,
                when: When::tick(1, 1.0 / 60.0),
                dt: 1.0 / 60.0,
                wish: wish(tick),
                before: &before,
                after: &after,
                events,
            });
        }
        watch.finish().iter().map(|finding| finding.kind.name()).collect()
    }

    #[test]
    fn each_audit_finds_what_it_is_for_and_nothing_else() {
        let still = |_| Vec3::ZERO;
        assert_eq!(found(DVec3::X * 0.07, &[], still, 1), [""; 0]);
        assert_eq!(found(DVec3::Y * 0.03, &[], still, 1), ["float"]);
        assert_eq!(found(DVec3::Y * 0.2, &[], still, 1), ["float", "pop"]);
        assert_eq!(found(DVec3::Y * -0.03, &[], still, 1), ["overlap"]);
        let told = |kind| Event { time: 0.0, place: DVec3::ZERO, velocity: DVec3::ZERO, kind };
        let step = told(EventKind::Stepped { height: 0.3 });
        assert_eq!(found(DVec3::X * 0.1, &[step], still, 1), ["false step"]);
        let lost = told(EventKind::LeftGround { support: newel::Support::None });
        assert_eq!(found(DVec3::ZERO, &[lost], still, 1), ["lost ground"]);
        let turned = told(EventKind::Righted);
        assert_eq!(found(DVec3::ZERO, &[turned], still, 10), [""; 0]);
        assert_eq!(found(DVec3::ZERO, &[turned], still, 12), ["flurry"]);
        let turns = |tick: u32| if tick < 60 { Vec3::X } else { Vec3::Z };
        assert_eq!(found(DVec3::ZERO, &[], turns, 150), ["no progress"]);
        assert_eq!(found(DVec3::ZERO, &[], |_| Vec3::X, 150), [""; 0]);
    }
}
