//! Plays a course, tick by tick.

use newel::{Character, Modifiers, Tick, TickError, Workspace};

use crate::audit::Audit;
use crate::course::{Course, Player};
use crate::trace::{Row, Trace};

/// Runs a course from its spawn to its end. `progress` is told now and then which part, 0 to 1, is done.
///
/// # Errors
/// [`TickError`] where a scripted command is refused, such as a teleport into rock.
pub fn run(course: &Course, mut progress: impl FnMut(f64)) -> Result<Trace, TickError> {
    let mut audit = Audit::new(&course.scene.solids);
    let mut hero = Character::spawn(&course.scene, &course.tuning, course.spawn)?;
    let mut player = Player::new(&course.script);
    let mut work = Workspace::new();
    let mut trace = Trace {
        title: course.title.clone(),
        rate: course.rate,
        rows: Vec::with_capacity((course.duration * course.rate) as usize + 1),
        events: Vec::new(),
        hash: 0,
        skin: f64::from(course.tuning.shape().skin()),
        bottom: course.scene.solids.corners(0.0).flat_map(|(c, _)| c).map(|c| c.y).fold(f64::INFINITY, f64::min),
    };
    let shape = course.tuning.shape();
    let depth = |audit: &Audit<'_>, hero: &Character| {
        audit.depth(hero.position, hero.up.as_dvec3(), hero.keeps.normal.as_dvec3(), &shape)
    };
    trace.rows.push(Row::first(&hero, depth(&audit, &hero)));
    let dt = 1.0 / course.rate;
    let ticks = (course.duration * course.rate).round() as u64;
    for number in 0..ticks {
        // From the count, not by adding up: the script's clock must not drift from the course's.
        let start = number as f64 * dt;
        let (intent, commands) = player.take(start, dt, &hero);
        let modifiers = Modifiers::default();
        let tick = Tick { number, terrain: &course.scene, tuning: &course.tuning, modifiers: &modifiers, dt };
        let outcome = tick.step(&mut work, &mut hero, &intent, &commands)?;
        trace.events.extend_from_slice(outcome.events);
        audit.set_time((number + 1) as f64 * dt);
        trace.rows.push(Row::after(number + 1, &hero, &outcome.readout, depth(&audit, &hero)));
        if number % 256 == 0 {
            progress(number as f64 / ticks as f64);
        }
    }
    trace.hash = hero.hash();
    progress(1.0);
    Ok(trace)
}
