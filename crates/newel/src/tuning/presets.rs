//! Tunings to start from.

use super::{
    Allows, Aloft, Along, Dash, Gait, Holds, Hover, Impact, InAir, Jump, LowStance, OnGround, Size, Slide, Sprint,
    Stances, Stick, Swim, Toward, Tuning, TuningValues, Turn, WallJump, WallSlide,
};
use crate::shape::Form;

/// A plain grown-up on foot: what a field is when nothing else is said.
pub(super) fn walker() -> TuningValues {
    TuningValues {
        size: Size { form: Form::Capsule, height: 1.8, radius: 0.3, eyes: 0.93 },
        ground: OnGround {
            speed: 4.5,
            acceleration: 30.0,
            deceleration: 35.0,
            reversal: 45.0,
            ease: None,
            ease_stop: None,
            sideways: 1.0,
            backward: 1.0,
            steepest: 45.0,
            step: 0.35,
            overhang: 0.5,
            uphill: 1.0,
            downhill: 1.0,
            step_loss: 0.0,
            fly_off: None,
            windage: 0.0,
            wading: 0.4,
            withstands: 1.0,
            drops: 0.25,
        },
        air: InAir {
            gravity: 18.0,
            speed: 1.0,
            acceleration: 10.0,
            deceleration: 2.0,
            excess_loss: 2.0,
            terminal: None,
            carried: 1.0,
            clings: 2.0,
            drag: 0.0,
        },
        jump: Some(Jump { height: 1.1, time_to_top: Some(0.38), ..Jump::default() }),
        sprint: Some(Sprint::default()),
        wall_slide: None,
        wall_jump: None,
        dash: None,
        stance: Stances::default(),
        crouch: Some(LowStance::crouch()),
        prone: Some(LowStance::prone()),
        slide: None,
        hover: None,
        climb: None,
        ledge: None,
        vault: None,
        swim: Some(Swim::default()),
        impact: Impact::default(),
        turn: Turn { toward: Toward::Movement, rate: 720.0, ease: None, righting: 360.0 },
        stick: Stick::default(),
        gait: Gait::default(),
    }
}

/// Boots and a pack: takes its time to get going, and lands where it aimed.
fn heavy_explorer() -> TuningValues {
    let plain = walker();
    TuningValues {
        size: Size { height: 1.85, radius: 0.34, ..plain.size },
        ground: OnGround {
            speed: 4.0,
            acceleration: 14.0,
            deceleration: 18.0,
            reversal: 22.0,
            steepest: 42.0,
            step: 0.4,
            ..plain.ground
        },
        air: InAir { gravity: 20.0, acceleration: 5.0, deceleration: 1.0, excess_loss: 1.0, ..plain.air },
        jump: Some(Jump { height: 0.9, time_to_top: Some(0.34), ..Jump::default() }),
        sprint: Some(Sprint { speed: 6.2, acceleration: 10.0, in_air: false, ..Sprint::default() }),
        stance: Stances { ease: 0.1, ..plain.stance },
        swim: Some(Swim {
            speed: 1.4,
            rise: 0.9,
            dive: 1.4,
            acceleration: 4.0,
            drag: 2.0,
            float: 0.9,
            idle: -0.2,
            begins: 0.92,
            ..Swim::default()
        }),
        crouch: Some(LowStance { height: Some(1.2), speed: 0.45, guard: true, ..LowStance::crouch() }),
        prone: Some(LowStance { height: Some(0.65), radius: Some(0.3), speed: 0.15, ..LowStance::prone() }),
        turn: Turn { rate: 420.0, ..plain.turn },
        gait: Gait { stride: 1.6, ..plain.gait },
        ..plain
    }
}

/// Quick on the turn, high in the air, and forgiving: a second jump, walls to jump off, a dash.
fn brisk_hero() -> TuningValues {
    let plain = walker();
    TuningValues {
        size: Size { height: 1.5, radius: 0.3, ..plain.size },
        ground: OnGround {
            speed: 6.5,
            acceleration: 60.0,
            deceleration: 75.0,
            reversal: 130.0,
            steepest: 50.0,
            ..plain.ground
        },
        air: InAir {
            gravity: 40.0,
            acceleration: 45.0,
            deceleration: 14.0,
            excess_loss: 12.0,
            terminal: Some(22.0),
            ..plain.air
        },
        jump: Some(Jump {
            height: 2.2,
            time_to_top: Some(0.38),
            time_down: Some(0.32),
            tap_height: Some(0.6),
            extra: 1.0,
            extra_height: Some(1.5),
            buffer: 0.12,
            hang_speed: 1.5,
            hang_gravity: 0.6,
            nudge: 0.15,
            ..Jump::default()
        }),
        sprint: Some(Sprint { speed: 9.0, acceleration: 45.0, ..Sprint::default() }),
        wall_slide: Some(WallSlide::default()),
        wall_jump: Some(WallJump { height: 1.8, away: 6.0, ..WallJump::default() }),
        dash: Some(Dash { distance: 3.2, time: 0.18, ..Dash::default() }),
        swim: Some(Swim {
            speed: 4.0,
            sprint: Some(6.0),
            rise: 3.5,
            dive: 4.0,
            acceleration: 24.0,
            deceleration: 4.0,
            drag: 2.5,
            jump: 1.6,
            ..Swim::default()
        }),
        stance: Stances { ease: 0.03, ..plain.stance },
        crouch: Some(LowStance {
            height: Some(0.9),
            speed: 0.6,
            jump: Allows::Yes,
            dash: Allows::Yes,
            air: Aloft::Any,
            ..LowStance::crouch()
        }),
        prone: None,
        slide: Some(Slide {
            from: 5.5,
            burst: 3.0,
            fastest: 12.0,
            along: Along::Heading,
            deceleration: 8.0,
            steer: 90.0,
            ends_below: 3.0,
            release: false,
            air: false,
            cooldown: 0.2,
            ..Slide::default()
        }),
        // Its own two jumps, one on the other, come down at 19 m/s, and no fall is faster than 22: it shrugs off both.
        impact: Impact { safe: 20.0, lethal: 40.0, ..plain.impact },
        turn: Turn { rate: 1440.0, ..plain.turn },
        gait: Gait { stride: 1.8, restart: true, ..plain.gait },
        ..plain
    }
}

/// Eyes first: the body turns with the view at once, and is slower sideways and backward.
fn first_person() -> TuningValues {
    let plain = walker();
    TuningValues {
        size: Size { height: 1.75, ..plain.size },
        ground: OnGround {
            speed: 4.2,
            acceleration: 40.0,
            deceleration: 45.0,
            reversal: 60.0,
            sideways: 0.9,
            backward: 0.75,
            ..plain.ground
        },
        air: InAir { acceleration: 12.0, deceleration: 0.0, excess_loss: 0.0, ..plain.air },
        jump: Some(Jump { height: 0.95, time_to_top: Some(0.34), coyote: 0.08, ..Jump::default() }),
        sprint: Some(Sprint { speed: 6.4, acceleration: 35.0, cone: 50.0, ..Sprint::default() }),
        crouch: Some(LowStance { height: Some(1.1), jump: Allows::Yes, air: Aloft::Any, ..LowStance::crouch() }),
        prone: Some(LowStance { height: Some(0.6), ..LowStance::prone() }),
        slide: Some(Slide::default()),
        turn: Turn { toward: Toward::View, rate: 100_000.0, ease: None, ..plain.turn },
        ..plain
    }
}

/// Light as a dandelion seed: eases into every motion, floats over the top and sinks slowly.
fn featherweight() -> TuningValues {
    let plain = walker();
    TuningValues {
        size: Size { height: 1.2, radius: 0.28, ..plain.size },
        ground: OnGround { speed: 4.0, ease: Some(0.12), ease_stop: Some(0.18), step: 0.3, ..plain.ground },
        air: InAir {
            gravity: 5.0,
            speed: 1.1,
            acceleration: 9.0,
            deceleration: 3.0,
            excess_loss: 4.0,
            terminal: Some(5.0),
            ..plain.air
        },
        jump: Some(Jump {
            height: 2.6,
            time_to_top: Some(0.75),
            time_down: Some(1.0),
            tap_height: Some(0.9),
            extra: 1.0,
            extra_height: Some(1.4),
            coyote: 0.15,
            buffer: 0.15,
            hang_speed: 1.2,
            hang_gravity: 0.5,
            ..Jump::default()
        }),
        sprint: Some(Sprint { speed: 5.5, acceleration: 20.0, ..Sprint::default() }),
        swim: Some(Swim { float: 0.6, begins: 0.65, ends: 0.5, idle: 0.6, ..Swim::default() }),
        turn: Turn { ease: Some(0.09), ..plain.turn },
        gait: Gait { stride: 1.3, ..plain.gait },
        ..plain
    }
}

/// Seen from above, in a plane square to up: quick on its feet, no jump, a dash, and hovering that glides as on ice.
fn top_view() -> TuningValues {
    let plain = walker();
    TuningValues {
        size: Size { height: 1.5, ..plain.size },
        ground: OnGround { speed: 5.0, acceleration: 45.0, deceleration: 55.0, reversal: 90.0, ..plain.ground },
        jump: None,
        sprint: Some(Sprint { speed: 7.0, acceleration: 40.0, ..Sprint::default() }),
        dash: Some(Dash { distance: 2.5, time: 0.16, ..Dash::default() }),
        crouch: None,
        prone: None,
        hover: Some(Hover {
            holds: Holds::Nothing,
            speed: 6.0,
            acceleration: 9.0,
            deceleration: 4.0,
            windage: 0.2,
            ..Hover::default()
        }),
        turn: Turn { rate: 900.0, ..plain.turn },
        gait: Gait { stride: 1.2, ..plain.gait },
        ..plain
    }
}

/// The presets: name, how a person would put it, and the numbers.
type Preset = (&'static str, &'static str, fn() -> TuningValues);
const LIST: [Preset; 6] = [
    ("walker", "a plain grown-up on foot", walker),
    ("heavy_explorer", "boots and a pack", heavy_explorer),
    ("brisk_hero", "quick, high and forgiving, with every ability", brisk_hero),
    ("first_person", "eyes first, the body turns with the view", first_person),
    ("featherweight", "eases into every motion and sinks slowly", featherweight),
    ("top_view", "seen from above: no jump, quick on the turn, gliding where it hovers", top_view),
];

impl Tuning {
    /// A plain grown-up on foot.
    #[must_use]
    pub fn walker() -> Tuning {
        checked(walker())
    }

    /// Boots and a pack: takes its time to get going, and lands where it aimed.
    #[must_use]
    pub fn heavy_explorer() -> Tuning {
        checked(heavy_explorer())
    }

    /// Quick on the turn, high in the air, and forgiving: a second jump, walls to jump off, a dash.
    #[must_use]
    pub fn brisk_hero() -> Tuning {
        checked(brisk_hero())
    }

    /// Eyes first: the body turns with the view at once, and is slower sideways and backward.
    #[must_use]
    pub fn first_person() -> Tuning {
        checked(first_person())
    }

    /// Light as a dandelion seed: eases into every motion, floats over the top and sinks slowly.
    #[must_use]
    pub fn featherweight() -> Tuning {
        checked(featherweight())
    }

    /// Seen from above, in a plane square to up: quick on its feet, no jump, a dash, and hovering that glides as on ice.
    #[must_use]
    pub fn top_view() -> Tuning {
        checked(top_view())
    }

    /// The preset of this name, and `None` for an unknown one; the names are in [`Tuning::PRESETS`].
    #[must_use]
    pub fn preset(name: &str) -> Option<Tuning> {
        LIST.iter().find(|p| p.0 == name).map(|p| checked(p.2()))
    }

    /// Purpose of a preset, in a few words.
    #[must_use]
    pub fn preset_words(name: &str) -> Option<&'static str> {
        LIST.iter().find(|p| p.0 == name).map(|p| p.1)
    }

    /// The names of the presets.
    pub const PRESETS: &'static [&'static str] = &[LIST[0].0, LIST[1].0, LIST[2].0, LIST[3].0, LIST[4].0, LIST[5].0];
}

fn checked(values: TuningValues) -> Tuning {
    Tuning::new(values).expect("every preset is checked by a test")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_preset_is_valid() {
        for name in Tuning::PRESETS {
            assert!(Tuning::preset(name).is_some() && Tuning::preset_words(name).is_some(), "{name}");
        }
        assert!(Tuning::preset("no such").is_none());
    }
}
