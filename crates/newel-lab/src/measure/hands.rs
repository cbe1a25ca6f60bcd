//! Finer points of what is done by hand: taking hold, climbing over, ledges caught and left, and going over what is low.

use newel::glam::{DVec3, Vec2, Vec3};
use newel::{Button, Effect, EventKind, Face, Heading, Hold, Mode, Stance, Tuning, Zone};

use super::Outcome;
use super::grounds::Ground;
use super::trial::{Trial, Writing, largest, largest_within};
use crate::course::Step;

/// When it turns, seconds, and longer than anything here takes.
const TURN: f64 = 4.0;
/// In this many seconds it rests at a rung.
const SETTLES: f64 = 5.0;
/// Angles are found to within this, degrees, and lengths in metres.
const ANGLE: f64 = 0.04;
const LENGTH: f64 = 5e-4;
const LONGEST: f64 = 30.0;

pub(super) fn outcomes(tuning: &Tuning) -> Vec<Outcome> {
    let values = tuning.values();
    let mut found = Vec::new();
    if let Some(climb) = values.climb {
        found.extend(climbing(tuning, &climb));
        found.extend(taking_hold(tuning, &climb));
    }
    if let Some(ledge) = values.ledge {
        found.extend(ledges(tuning, &ledge));
    }
    if let Some(vault) = values.vault {
        found.extend(vaults(tuning, &vault));
    }
    found
}

/// How long a move by hand took: from when it is told to when it is over.
fn move_time(trial: &Trial) -> Option<f64> {
    let moves = |k: &EventKind| matches!(k, EventKind::PulledUp { .. } | EventKind::Vaulted { .. });
    let ends = |k: &EventKind| matches!(k, EventKind::LedgeLeft { .. } | EventKind::ClimbEnded { .. });
    let began = trial.first(moves)?.time;
    trial.events.iter().find(|event| ends(&event.kind) && event.time > began).map(|event| event.time - began)
}

fn time_of(trial: &Trial, is: fn(&EventKind) -> bool) -> Option<f64> {
    trial.first(is).map(|event| event.time)
}

/// A ladder from `bottom` on beside the start, 800 m high.
fn ladder(tuning: &Tuning, hold: Hold, bottom: f64) -> Option<Trial> {
    let near = 3.0 * f64::from(tuning.values().size.radius);
    let holds = Effect::Hold { hold, out: Vec3::NEG_X };
    let zone = Zone::new(1, DVec3::new(near, bottom, -80.0), DVec3::new(near + 1.0, 800.0, 80.0), holds);
    Some(Trial::new(&Ground::floor(), tuning, [0.0; 3])?.in_zone(zone))
}

/// Up a ladder until the turn, with the grab button held.
fn up() -> Writing {
    Writing::default().face(Face::Movement).at(0.0, Step::Button(Button::Grab, true)).head(0.0, 1.0)
}

fn climbing(tuning: &Tuning, climb: &newel::Climb) -> Vec<Outcome> {
    let on_ladder = |writing: Writing, seconds: f64| {
        let mut trial = ladder(tuning, Hold::Ladder, 0.0)?;
        trial.play(&writing.script(), seconds);
        Some(trial)
    };
    let still = |trial: Trial| {
        let rests = trial.samples.iter().find(|s| s.time > TURN + 0.01 && s.velocity.length() < 1e-6)?;
        Some((rests.time - TURN, rests.position.y))
    };
    let stops = on_ladder(up().head(TURN, 0.0), TURN + 3.0).and_then(still);
    let said = Some(f64::from(climb.up / climb.deceleration)).filter(|_| climb.rung == 0.0);
    let mut found = vec![Outcome::new("climbing: stops in", "s", stops.map(|(time, _)| time), said)];
    if climb.rung > 0.0 {
        let tapped = up().head(TURN, 0.0).head(TURN + SETTLES, 1.0).head(TURN + SETTLES + 0.02, 0.0);
        let next = on_ladder(tapped, TURN + 2.0 * SETTLES).map(|trial| trial.hero.position.y);
        let first = on_ladder(up().head(TURN, 0.0), TURN + SETTLES).map(|trial| trial.hero.position.y);
        let apart = first.zip(next).map(|(first, next)| next - first);
        found.push(Outcome::new("climbing: rests on rungs apart", "m", apart, Some(f64::from(climb.rung))));
    }
    if climb.slide > 0.0 {
        let ducks = up().head(TURN, 0.0).at(TURN, Step::Stance(Stance::Crouch));
        let slides = on_ladder(ducks, TURN + 1.5).filter(|trial| trial.hero.mode == Mode::Climb);
        let top = f64::from(climb.slide);
        let fast = slides.as_ref().map(|trial| -trial.hero.velocity.y);
        let gained = slides.as_ref().and_then(|trial| {
            let is = |s: &&super::Sample| s.time > TURN && -s.velocity.y >= 0.99 * top;
            trial.samples.iter().find(is).map(|s| s.time - TURN)
        });
        found.push(Outcome::new("climbing: slides down at", "m/s", fast, None));
        found.push(Outcome::new("climbing: to 99 % of that in", "s", gained, None));
    }
    let jumps = on_ladder(up().head(TURN, 0.0).press(TURN + 0.5, Button::Jump, 9.0), TURN + 3.0);
    let off = jumps.as_ref().and_then(|trial| trial.first(|k| matches!(k, EventKind::Jumped { .. })).copied());
    let topped = jumps.as_ref().and_then(|trial| trial.first(|k| *k == EventKind::Topped).copied());
    let away = off.map(|event| -event.velocity.x);
    found.push(Outcome::new("climbing: jumps away at", "m/s", away, Some(f64::from(climb.jump_away))));
    let high = off.zip(topped).map(|(off, top)| top.place.y - off.place.y);
    found.push(Outcome::new("climbing: that jump's height", "m", high, Some(f64::from(climb.jump_height))));
    found
}

/// Holds: how high that may begin, how it may slope, how much past it the heading may lead, how soon again.
fn taking_hold(tuning: &Tuning, climb: &newel::Climb) -> Vec<Outcome> {
    let height = f64::from(tuning.shape().height);
    let climbs = |mut trial: Trial, writing: Writing| {
        trial.play_until(&writing.script(), 3.0, |t| t.hero.mode == Mode::Climb);
        trial.hero.mode == Mode::Climb
    };
    let from = largest_within(LENGTH, 0.05, height, |bottom| {
        ladder(tuning, Hold::Ladder, bottom).is_some_and(|trial| climbs(trial, up()))
    });
    // A slope that gives hold, from a floor that ends where that begins.
    let slope = |degrees: f64| {
        let ground = Ground::default().block([-50.0, -1.0, -50.0], [0.5, 0.0, 50.0]).ramp(degrees).that_holds();
        Trial::new(&ground, tuning, [-2.0 - 3.0 * height, 0.0, 0.0]).is_some_and(|trial| climbs(trial, up()))
    };
    let flattest = largest_within(ANGLE, 0.5, 60.0, |less| slope(90.0 - less)).map(|less| 90.0 - less);
    let leans = largest_within(ANGLE, 0.0, 80.0, |over| slope(90.0 + over));
    let aside = |degrees: f64| {
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let way = Step::Heading(Heading::World(Vec3::new(cosine as f32, 0.0, sine as f32)));
        let writing = Writing::default().face(Face::Movement).at(0.0, way);
        ladder(tuning, Hold::Wall, 0.0).is_some_and(|trial| climbs(trial, writing))
    };
    let cone = largest_within(ANGLE, 0.0, 89.0, aside).filter(|_| climb.takes == newel::Takes::Touch);
    let mut found = vec![
        Outcome::new("climbing: takes hold of what begins up to", "m", from, None),
        Outcome::new("climbing: slopes climbed from", "deg", flattest, None),
        Outcome::new("climbing: overhangs climbed up to", "deg", leans, None),
    ];
    if climb.takes == newel::Takes::Touch {
        found.push(Outcome::new("climbing: heading past it up to", "deg", cone, Some(f64::from(climb.cone))));
    }
    // Dropped, and pressing on into it.
    let again = ladder(tuning, Hold::Ladder, 0.0).and_then(|mut trial| {
        // The button pressed anew lets go.
        let grab = |at: f64, down: bool| (at, Step::Button(Button::Grab, down));
        let again = [grab(TURN - 0.2, false), grab(TURN, true)];
        let writing = again.into_iter().fold(up(), |writing, (at, step)| writing.at(at, step));
        trial.play(&writing.script(), TURN + 5.0);
        let ended = time_of(&trial, |k| matches!(k, EventKind::ClimbEnded { .. }))?;
        let begins = |event: &&newel::Event| matches!(event.kind, EventKind::ClimbBegan { .. }) && event.time > ended;
        trial.events.iter().find(begins).map(|event| event.time - ended)
    });
    found.push(Outcome::new("climbing: takes hold again after", "s", again, None));
    // Up onto what it climbs.
    let near = 3.0 * f64::from(tuning.values().size.radius);
    let top = 3.0 * height;
    let tower = Ground::floor().block([near, 0.0, -50.0], [near + 9.0, top, 50.0]).that_holds();
    let over = Trial::new(&tower, tuning, [0.0; 3]).and_then(|mut trial| {
        trial.play_until(&up().script(), LONGEST, |t| t.hero.mode == Mode::Ground && t.hero.position.y > 0.5 * top);
        move_time(&trial)
    });
    found.push(Outcome::new("climbing: over the top takes", "s", over, Some(f64::from(climb.over))));
    found
}

/// A block with a ledge this high, wide and deep, at arm's length.
fn block(high: f64, wide: f64, deep: f64) -> Ground {
    Ground::floor().block([2.0, -1.0, -0.5 * wide], [2.0 + deep, high, 0.5 * wide])
}

fn ledges(tuning: &Tuning, ledge: &newel::Ledge) -> Vec<Outcome> {
    let onto = 0.5 * f64::from(ledge.lowest + ledge.highest);
    let run = |ground: &Ground, writing: Writing, seconds: f64| {
        let mut trial = Trial::new(ground, tuning, [0.0; 3])?;
        trial.play(&writing.script(), seconds);
        Some(trial)
    };
    let gets_up = |ground: &Ground, writing: Writing| {
        let pulled = |k: &EventKind| matches!(k, EventKind::PulledUp { .. });
        run(ground, writing, 6.0).is_some_and(|trial| trial.first(pulled).is_some())
    };
    let wide =
        largest_within(LENGTH, 0.0, 3.97, |less| gets_up(&block(onto, 4.0 - less, 9.0), up())).map(|less| 4.0 - less);
    let deep =
        largest_within(LENGTH, 0.0, 1.99, |less| gets_up(&block(onto, 9.0, 2.0 - less), up())).map(|less| 2.0 - less);
    let aside = |degrees: f64| {
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let way = Step::Heading(Heading::World(Vec3::new(cosine as f32, 0.0, sine as f32)));
        gets_up(&block(onto, 200.0, 9.0), up().at(0.0, way))
    };
    let cone = largest_within(ANGLE, 0.0, 89.0, aside);
    let took = run(&block(onto, 9.0, 9.0), up(), 6.0).and_then(|trial| move_time(&trial));
    let mut found = vec![
        Outcome::new("ledge: as wide as this at least", "m", wide, None),
        Outcome::new("ledge: as deep as this at least", "m", deep, None),
        Outcome::new("ledge: heading past it up to", "deg", cone, Some(f64::from(ledge.cone))),
        Outcome::new("ledge: getting up onto it takes", "s", took, None),
    ];
    found.extend(hanging(tuning, ledge));
    found
}

/// Somebody beside the edge of a cliff, with the feet so far under it, who then does something.
fn beside_an_edge(tuning: &Tuning, under: f64, writing: Writing, seconds: f64) -> Option<Trial> {
    let radius = f64::from(tuning.values().size.radius);
    let cliff = Ground::default().block([radius + 0.01, -60.0, -50.0], [9.0, 0.0, 50.0]);
    let mut trial = Trial::new(&cliff, tuning, [0.0, -under, 0.0])?;
    trial.play(&writing.script(), seconds);
    Some(trial)
}

fn is_catch(kind: &EventKind) -> bool {
    matches!(kind, EventKind::Caught { .. })
}

/// How far under an edge the feet usually are that catch it.
fn usual(ledge: &newel::Ledge) -> f64 {
    f64::from(ledge.hang) + 0.5 * f64::from(ledge.reach)
}

/// Result of catching a ledge in a fall past it.
fn hanging(tuning: &Tuning, ledge: &newel::Ledge) -> Vec<Outcome> {
    let mut found = catching(tuning, ledge);
    let hangs = |writing: Writing, seconds: f64| beside_an_edge(tuning, usual(ledge), writing, seconds);
    let taken = hangs(up().head(0.1, 0.0), 2.0).and_then(|trial| {
        let from = time_of(&trial, is_catch)?;
        let rests = |s: &&super::Sample| s.time > from + 0.005 && s.velocity.length() < 1e-6;
        trial.samples.iter().find(rests).map(|s| s.time - from)
    });
    let pulls = hangs(up().head(0.1, 0.0).press(2.0, Button::Jump, 0.1).head(2.0, 1.0), 6.0);
    let pulls = pulls.and_then(|trial| move_time(&trial));
    found.push(Outcome::new("ledge: hangs still after", "s", taken, None));
    found.push(Outcome::new("ledge: pulls itself up in", "s", pulls, Some(f64::from(ledge.pull_up))));
    if ledge.aside > 0.0 {
        let aside = Step::Heading(Heading::Surface(Vec2::X));
        let along = hangs(up().head(0.1, 0.0).at(2.0, aside), 3.5);
        let top = f64::from(ledge.aside);
        let gained = along.as_ref().and_then(|trial| {
            let is = |s: &&super::Sample| s.time > 2.0 && s.velocity.z.abs() >= 0.99 * top;
            trial.samples.iter().find(is).map(|s| s.time - 2.0)
        });
        let fast = along.as_ref().map(|trial| trial.hero.velocity.z.abs());
        found.push(Outcome::new("ledge: along it at", "m/s", fast, Some(top)));
        found.push(Outcome::new("ledge: to 99 % of that in", "s", gained, None));
    }
    found.extend(jumping_off(tuning, ledge));
    found
}

/// How high and how low an edge is caught, and how soon again.
fn catching(tuning: &Tuning, ledge: &newel::Ledge) -> Vec<Outcome> {
    let (hang, usual) = (f64::from(ledge.hang), usual(ledge));
    let catches =
        |under: f64| beside_an_edge(tuning, under, up(), 0.004).is_some_and(|trial| trial.first(is_catch).is_some());
    let highest = largest(usual, hang + 3.0, catches);
    let lowest = largest(0.0, hang, |less| catches(usual - less)).map(|less| usual - less);
    // Let go of, and put back to about where it hung.
    let grab = |at: f64, down: bool| (at, Step::Button(Button::Grab, down));
    let misses = |after: f64| {
        let again = [grab(0.2, false), grab(0.5, true)];
        let fallen = 0.5 * tuning.falling_gravity() * after * after;
        let put_back = newel::Command::Shift { by: DVec3::Y * fallen };
        let writing = again.into_iter().fold(up(), |writing, (at, step)| writing.at(at, step));
        let trial = beside_an_edge(tuning, usual, writing.at(0.5 + after, Step::Command(put_back)), 0.52 + after);
        trial.is_some_and(|trial| trial.events.iter().filter(|event| is_catch(&event.kind)).count() < 2)
    };
    let longest = 1.0 + 3.0 * f64::from(ledge.pause);
    let pause = largest_within(LENGTH, 0.02, longest, misses).filter(|after| *after < longest);
    let (most, least) = (hang + f64::from(ledge.reach), hang - f64::from(ledge.below));
    vec![
        Outcome::new("ledge: caught this high over the feet at most", "m", highest, Some(most)),
        Outcome::new("ledge: caught this high at least", "m", lowest, Some(least)),
        Outcome::new("ledge: catches again after", "s", pause, None),
    ]
}

fn jumping_off(tuning: &Tuning, ledge: &newel::Ledge) -> Vec<Outcome> {
    let back = Step::Heading(Heading::World(Vec3::NEG_X));
    let writing = up().head(0.1, 0.0).at(2.0, back).press(2.0, Button::Jump, 9.0);
    let off = beside_an_edge(tuning, usual(ledge), writing, 4.0);
    let event = |is: fn(&EventKind) -> bool| off.as_ref().and_then(|trial| trial.first(is).copied());
    let jumped = event(|k| matches!(k, EventKind::Jumped { .. }));
    let away = jumped.map(|event| -event.velocity.x);
    let high = jumped.zip(event(|k| *k == EventKind::Topped)).map(|(from, to)| to.place.y - from.place.y);
    vec![
        Outcome::new("ledge: jumps away at", "m/s", away, Some(f64::from(ledge.jump_away))),
        Outcome::new("ledge: that jump's height", "m", high, Some(f64::from(ledge.jump_height))),
    ]
}

fn vaults(tuning: &Tuning, vault: &newel::Vault) -> Vec<Outcome> {
    let vaulted = |k: &EventKind| matches!(k, EventKind::Vaulted { .. });
    let script = |degrees: f64| {
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let way = Step::Heading(Heading::World(Vec3::new(cosine as f32, 0.0, sine as f32)));
        Writing::default().face(Face::Movement).at(0.0, way).at(0.0, Step::Button(Button::Sprint, true)).script()
    };
    let run = |high: f64, degrees: f64| {
        let deep = 0.5 * f64::from(vault.deepest);
        let wall = Ground::floor().block([8.0, -1.0, -200.0], [8.0 + deep, high, 200.0]);
        let mut trial = Trial::new(&wall, tuning, [0.0; 3])?;
        trial.play(&script(degrees), 8.0);
        Some(trial)
    };
    let goes_over = |high: f64, degrees: f64| run(high, degrees).is_some_and(|trial| trial.first(vaulted).is_some());
    let usual = 0.5 * f64::from(vault.lowest + vault.highest);
    let lowest = largest(0.0, usual - 0.01, |less| goes_over(usual - less, 0.0)).map(|less| usual - less);
    let cone = largest_within(ANGLE, 0.0, 70.0, |degrees| goes_over(usual, degrees));
    let took = run(usual, 0.0).and_then(|trial| move_time(&trial));
    vec![
        Outcome::new("vault: the lowest gone over", "m", lowest, None),
        Outcome::new("vault: its way past it up to", "deg", cone, None),
        Outcome::new("vault: takes", "s", took, None),
    ]
}
