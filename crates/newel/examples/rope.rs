//! A game's own mode: ropes that hang over a gap. The keeper runs off the jetty, catches a rope in reach with the grab button, swings,
//! pulls itself up on it or lets itself down, and lets go over the other side.
//!
//! `cargo run -p newel --example rope`

use newel::glam::{DVec3, Vec3};
use newel::{
    Button, CustomMode, EventKind, Fingerprint, Fingerprinted, Intent, Mesh, Mode, ModeCx, Next, Runner, Spawn, Tuning,
};

/// Where the ropes of this game hang, and how long they are, metres.
const ROPES: [(DVec3, f64); 2] = [(DVec3::new(4.0, 7.0, 0.0), 5.6), (DVec3::new(8.5, 7.0, 0.0), 5.6)];
/// How near its middle has to be to a rope to catch it, metres.
const REACH: f64 = 0.9;
/// How strongly a heading swings it, m/s², and how fast it goes up and down the rope, m/s.
const PUMPS: f64 = 2.5;
const CLIMBS: f64 = 1.0;
/// How strongly the air holds it, per second.
const AIR: f64 = 0.03;

/// The character's own data: which rope it hangs on, how far from the hook.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
struct Rope {
    on: Option<usize>,
    length: f64,
}

impl CustomMode for Rope {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        if !cx.held(Button::Grab) || cx.state().mode != Mode::Air {
            return false;
        }
        let near = |&(hook, length): &(DVec3, f64)| {
            let hangs = (hook - cx.middle()).length();
            let end = hook + DVec3::NEG_Y * hangs.min(length);
            hangs < length + REACH && (end - cx.middle()).length() < REACH
        };
        let Some(rope) = ROPES.iter().position(near) else { return false };
        (self.on, self.length) = (Some(rope), (ROPES[rope].0 - cx.middle()).length().min(ROPES[rope].1));
        true
    }

    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        let Some((hook, longest)) = self.on.map(|rope| ROPES[rope]) else { return Next::Leave };
        if !cx.held(Button::Grab) {
            return Next::Leave;
        }
        // Up with the jump button, down with the slide button: pulling itself up while it swings makes it faster, as it should.
        let reels = f64::from(u8::from(cx.held(Button::Slide))) - f64::from(u8::from(cx.held(Button::Jump)));
        self.length = (self.length + reels * CLIMBS * cx.span()).clamp(1.5, longest);
        cx.accelerate(cx.gravity() + cx.heading().as_dvec3() * PUMPS - cx.velocity() * AIR);
        cx.tether(hook, self.length);
        cx.look(cx.velocity().as_vec3());
        cx.slide();
        Next::Stay
    }

    fn ended(&mut self) {
        self.on = None;
    }
}

/// Saved and compared by every bit, as the rest of the character is.
impl Fingerprinted for Rope {
    fn feed(&self, print: &mut Fingerprint) {
        print.u64(self.on.map_or(u64::MAX, |rope| rope as u64));
        print.f64(self.length);
    }
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // Two jetties, ten metres of water between them: more than twice what a jump clears.
    let jetty = |x: f32| [[x - 4.0, 0.0, -2.0], [x + 4.0, 0.0, -2.0], [x + 4.0, 0.0, 2.0], [x - 4.0, 0.0, 2.0f32]];
    let corners = [jetty(-3.0), jetty(15.0)].concat();
    let level = Mesh::new(&corners, &[0, 2, 1, 0, 3, 2, 4, 6, 5, 4, 7, 6])?;
    let tuning = Tuning::walker();
    let mut ends = Vec::new();
    for rate in [60.0, 144.0] {
        let hero = newel::Character::spawn_with(&level, &tuning, Spawn::at([-3.0, 0.0, 0.0]), Rope::default())?;
        let mut hero = Runner::new(hero).with_rate(rate)?;
        let mut told = Vec::new();
        // The player runs and jumps, reaches for a rope on the way, and lets go of it where it swings forward and up.
        let player = |me: &newel::Before<'_, Rope>| {
            let run = Intent::toward(Vec3::X);
            let hook = me.custom().on.map(|rope| ROPES[rope].0.x);
            let past = hook.is_some_and(|x| me.position.x > x + 2.0 && me.velocity.x > 1.0);
            match me.mode {
                Mode::Ground if me.position.x > 0.6 && me.position.x < 2.0 => run.hold(Button::Jump),
                Mode::Ground if me.position.x < 12.5 => run,
                Mode::Ground => Intent::default(),
                _ if past => run,
                _ => run.hold(Button::Grab),
            }
        };
        let mut clock = 0.0;
        while clock < 9.0 {
            hero.advance(
                1.0 / 60.0,
                &level,
                &tuning,
                |me| player(me),
                |tick| {
                    told.extend(tick.events().iter().copied());
                },
            )?;
            clock += 1.0 / 60.0;
        }
        for event in &told {
            let what = match event.kind {
                EventKind::Jumped { .. } => "jumps",
                EventKind::CustomBegan => "catches a rope",
                EventKind::CustomEnded => "lets go",
                EventKind::Landed { .. } => "lands",
                _ => continue,
            };
            let (place, speed) = (event.place, event.velocity.length());
            println!("{:5.2} s  {what:14} at x {:5.2} m, {:5.2} m up, {speed:.2} m/s", event.time, place.x, place.y);
        }
        let swings = told.iter().filter(|e| e.kind == EventKind::CustomBegan).count();
        println!("{rate} ticks a second: over on {swings} ropes, hash {:016x}\n", hero.character.hash());
        assert!(
            hero.character.mode == Mode::Ground && hero.character.position.x > 11.0,
            "{:?}",
            hero.character.position
        );
        ends.push(swings);
    }
    assert!(ends[0] == ends[1]);
    Ok(())
}
