//! The choices of a tuning, one by one: what each means and its words.

use super::climb::Takes;
use super::hover::Holds;
use super::stances::{Allows, Aloft, Along, Anchor, Rise};
use super::swim::{Steers, Submerged};
use super::tables::{climb, crouch, hover, ledge, prone, slide, sprint, swim};
use super::values::{Toward, TuningValues, Ways};
use crate::shape::Form;

/// One choice of a [`TuningValues`]: a word out of a few.
pub struct Choice {
    /// Its path, as in a file: `turn.toward`.
    pub path: &'static str,
    /// The words.
    pub words: &'static [&'static str],
    /// Meaning, in a few words.
    pub meaning: &'static str,
    /// Reads which word it is; `None` where its table is absent.
    pub get: fn(&TuningValues) -> Option<usize>,
    /// Writes it by its place among the words, making its table if there is none; a place beyond them is the last.
    pub set: fn(&mut TuningValues, usize),
}

impl core::fmt::Debug for Choice {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "{} ({})", self.path, self.words.join(", "))
    }
}

const NO_YES: &[&str] = &["false", "true"];
const FORMS: [Form; 2] = [Form::Capsule, Form::Box];
const STEERS: [Steers; 2] = [Steers::Buttons, Steers::View];
const UNDER: [Submerged; 2] = [Submerged::Stand, Submerged::Crouch];
const TOWARDS: [Toward; 4] = [Toward::Movement, Toward::View, Toward::Sides, Toward::Nothing];
const WAYS: [Ways; 3] = [Ways::Any, Ways::Four, Ways::Eight];
const HOLDS: [Holds; 3] = [Holds::Height, Holds::Ground, Holds::Nothing];
const TAKES: [Takes; 2] = [Takes::Touch, Takes::Button];
const TAKES_WORDS: &[&str] = &["touch", "button"];
const RISES: [Rise; 2] = [Rise::AtOnce, Rise::Asked];
const ANCHORS: [Anchor; 3] = [Anchor::Feet, Anchor::Centre, Anchor::Head];
const ALLOWS: [Allows; 3] = [Allows::No, Allows::Stand, Allows::Yes];
const ALLOWS_WORDS: &[&str] = &["no", "stand", "yes"];
const ALOFT: [Aloft; 3] = [Aloft::Stand, Aloft::Keep, Aloft::Any];
const ALOFT_WORDS: &[&str] = &["stand", "keep", "any"];
const ALONG: [Along; 2] = [Along::Velocity, Along::Heading];

fn place<T: PartialEq>(list: &[T], of: T) -> Option<usize> {
    list.iter().position(|x| *x == of)
}

/// Every choice of a tuning, in the order of the file.
#[rustfmt::skip]
pub static CHOICES: &[Choice] = &[
    Choice { path: "size.form", words: &["capsule", "box"],
        meaning: "a box stands flush on edges and needs a plane to keep to",
        get: |v| place(&FORMS, v.size.form), set: |v, i| v.size.form = FORMS[i.min(1)] },
    Choice { path: "hover.holds", words: &["height", "ground", "nothing"],
        meaning: "what hovering holds: the height at which it began, its height over the ground, or nothing",
        get: |v| v.hover.and_then(|h| place(&HOLDS, h.holds)), set: |v, i| hover(v).holds = HOLDS[i.min(2)] },
    Choice { path: "climb.takes", words: TAKES_WORDS,
        meaning: "what it takes to take hold: a heading into what is touched, or the grab button",
        get: |v| v.climb.and_then(|c| place(&TAKES, c.takes)), set: |v, i| climb(v).takes = TAKES[i.min(1)] },
    Choice { path: "ledge.takes", words: TAKES_WORDS,
        meaning: "what it takes to get up onto a ledge or to catch it: a heading into what is touched, or the grab button",
        get: |v| v.ledge.and_then(|l| place(&TAKES, l.takes)), set: |v, i| ledge(v).takes = TAKES[i.min(1)] },
    Choice { path: "ledge.at_once", words: NO_YES,
        meaning: "whether a heading that led into a ledge as it was caught pulls up at once",
        get: |v| v.ledge.map(|l| usize::from(l.at_once)), set: |v, i| ledge(v).at_once = i > 0 },
    Choice { path: "sprint.in_air", words: NO_YES, meaning: "whether a sprint goes on in the air",
        get: |v| v.sprint.map(|s| usize::from(s.in_air)), set: |v, i| sprint(v).in_air = i > 0 },
    Choice { path: "stance.rise", words: &["at_once", "asked"],
        meaning: "when what could not rise for want of room does so: by itself, or when asked again",
        get: |v| place(&RISES, v.stance.rise), set: |v, i| v.stance.rise = RISES[i.min(1)] },
    Choice { path: "stance.anchor", words: &["feet", "centre", "head"],
        meaning: "what stays where it is when the shape changes in the air",
        get: |v| place(&ANCHORS, v.stance.anchor), set: |v, i| v.stance.anchor = ANCHORS[i.min(2)] },
    Choice { path: "crouch.jump", words: ALLOWS_WORDS, meaning: "what a crouch makes of the jump button: refused, stands up instead, or done",
        get: |v| v.crouch.and_then(|c| place(&ALLOWS, c.jump)), set: |v, i| crouch(v).jump = ALLOWS[i.min(2)] },
    Choice { path: "crouch.sprint", words: ALLOWS_WORDS, meaning: "what a crouch makes of the sprint button: refused, stands up instead, or done",
        get: |v| v.crouch.and_then(|c| place(&ALLOWS, c.sprint)), set: |v, i| crouch(v).sprint = ALLOWS[i.min(2)] },
    Choice { path: "crouch.dash", words: ALLOWS_WORDS, meaning: "what a crouch makes of the dash button: refused, stands up instead, or done",
        get: |v| v.crouch.and_then(|c| place(&ALLOWS, c.dash)), set: |v, i| crouch(v).dash = ALLOWS[i.min(2)] },
    Choice { path: "crouch.air", words: ALOFT_WORDS,
        meaning: "what leaving the ground makes of a crouch: stands up, stays, or changes as on the ground",
        get: |v| v.crouch.and_then(|c| place(&ALOFT, c.air)), set: |v, i| crouch(v).air = ALOFT[i.min(2)] },
    Choice { path: "crouch.guard", words: NO_YES, meaning: "whether a crouch never goes off an edge",
        get: |v| v.crouch.map(|c| usize::from(c.guard)), set: |v, i| crouch(v).guard = i > 0 },
    Choice { path: "prone.jump", words: ALLOWS_WORDS, meaning: "what lying flat makes of the jump button: refused, stands up instead, or done",
        get: |v| v.prone.and_then(|c| place(&ALLOWS, c.jump)), set: |v, i| prone(v).jump = ALLOWS[i.min(2)] },
    Choice { path: "prone.sprint", words: ALLOWS_WORDS, meaning: "what lying flat makes of the sprint button: refused, stands up instead, or done",
        get: |v| v.prone.and_then(|c| place(&ALLOWS, c.sprint)), set: |v, i| prone(v).sprint = ALLOWS[i.min(2)] },
    Choice { path: "prone.dash", words: ALLOWS_WORDS, meaning: "what lying flat makes of the dash button: refused, stands up instead, or done",
        get: |v| v.prone.and_then(|c| place(&ALLOWS, c.dash)), set: |v, i| prone(v).dash = ALLOWS[i.min(2)] },
    Choice { path: "prone.air", words: ALOFT_WORDS,
        meaning: "what leaving the ground makes of lying flat: stands up, stays, or changes as on the ground",
        get: |v| v.prone.and_then(|c| place(&ALOFT, c.air)), set: |v, i| prone(v).air = ALOFT[i.min(2)] },
    Choice { path: "prone.guard", words: NO_YES, meaning: "whether lying flat never goes off an edge",
        get: |v| v.prone.map(|c| usize::from(c.guard)), set: |v, i| prone(v).guard = i > 0 },
    Choice { path: "slide.along", words: &["velocity", "heading"], meaning: "which way a slide leads at first",
        get: |v| v.slide.and_then(|s| place(&ALONG, s.along)), set: |v, i| slide(v).along = ALONG[i.min(1)] },
    Choice { path: "slide.release", words: NO_YES, meaning: "whether letting go of the button ends a slide",
        get: |v| v.slide.map(|s| usize::from(s.release)), set: |v, i| slide(v).release = i > 0 },
    Choice { path: "slide.jump", words: NO_YES, meaning: "whether a slide can be jumped out of",
        get: |v| v.slide.map(|s| usize::from(s.jump)), set: |v, i| slide(v).jump = i > 0 },
    Choice { path: "slide.air", words: NO_YES, meaning: "whether leaving the ground ends a slide",
        get: |v| v.slide.map(|s| usize::from(s.air)), set: |v, i| slide(v).air = i > 0 },
    Choice { path: "slide.wall", words: NO_YES, meaning: "whether meeting a wall more than half head-on ends a slide",
        get: |v| v.slide.map(|s| usize::from(s.wall)), set: |v, i| slide(v).wall = i > 0 },
    Choice { path: "swim.steers", words: &["buttons", "view"], meaning: "what leads a swimmer up and down: the buttons alone, or the view as well",
        get: |v| v.swim.and_then(|t| place(&STEERS, t.steers)), set: |v, i| swim(v).steers = STEERS[i.min(1)] },
    Choice { path: "swim.under", words: &["stand", "crouch"], meaning: "what shape a swimmer has whose head is under water",
        get: |v| v.swim.and_then(|t| place(&UNDER, t.under)), set: |v, i| swim(v).under = UNDER[i.min(1)] },
    Choice { path: "turn.toward", words: &["movement", "view", "sides", "nothing"],
        meaning: "what the body turns toward",
        get: |v| place(&TOWARDS, v.turn.toward), set: |v, i| v.turn.toward = TOWARDS[i.min(3)] },
    Choice { path: "stick.ways", words: &["any", "four", "eight"], meaning: "the directions a stick knows",
        get: |v| place(&WAYS, v.stick.ways), set: |v, i| v.stick.ways = WAYS[i.min(2)] },
    Choice { path: "gait.restart", words: NO_YES, meaning: "whether a turn-about begins with the first foot again",
        get: |v| Some(usize::from(v.gait.restart)), set: |v, i| v.gait.restart = i > 0 },
];
