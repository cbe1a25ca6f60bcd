//! A game's own mode: it swings as a pendulum does at every tick rate, ends as it is told, and is saved and hashed with the rest.

use crate::common::oracle::Dice;
use crate::common::script::Script;
use crate::common::worlds::village;
use crate::common::{SIX_RATES, World};
use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Command, CustomMode, Ending, Event, EventKind, Fingerprint, Fingerprinted, Intent, Key, Mesh,
    Mode, ModeCx, Modifiers, Next, Scene, Spawn, Stance, Tick, TickError, Track, Tuning, Workspace,
};

#[derive(Clone, Copy, Debug, Default, PartialEq)]
struct Rope {
    hook: DVec3,
    length: f64,
    /// Seconds that it was asked to move.
    asked: f64,
}

impl CustomMode for Rope {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        cx.pressed(Button::Grab) && self.length > 0.0
    }

    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        if cx.pressed(Button::Grab) {
            return Next::Leave;
        }
        self.asked += cx.span();
        cx.accelerate(cx.gravity());
        cx.tether(self.hook, self.length);
        cx.slide();
        Next::Stay
    }
}

impl Fingerprinted for Rope {
    fn feed(&self, print: &mut Fingerprint) {
        self.hook.to_array().iter().for_each(|x| print.f64(*x));
        print.f64(self.length);
        print.f64(self.asked);
    }
}

struct Swinging {
    level: Mesh,
    tuning: Tuning,
    hero: Character<Rope>,
    work: Workspace,
    events: Vec<Event>,
}

impl Swinging {
    /// A keeper that hangs at `out` from a hook, over a floor far below.
    fn new(world: World, out: DVec3, length: f64) -> Swinging {
        let (level, tuning) = (world.mesh(), Tuning::walker());
        let hook = DVec3::new(0.0, 20.0, 0.0);
        let feet = hook + out - DVec3::Y * 0.5 * f64::from(tuning.shape().height);
        let rope = Rope { hook, length, asked: 0.0 };
        let hero = Character::spawn_with(&level, &tuning, Spawn::at(feet), rope).expect("a clear place");
        Swinging { level, tuning, hero, work: Workspace::new(), events: Vec::new() }
    }

    fn tick(&mut self, dt: f64, intent: Intent, commands: &[Command]) -> Result<(), TickError> {
        let modifiers = Modifiers::default();
        let tick = Tick { number: 0, terrain: &self.level, tuning: &self.tuning, modifiers: &modifiers, dt };
        let outcome = tick.step(&mut self.work, &mut self.hero, &intent, commands)?;
        self.events.extend(outcome.events);
        Ok(())
    }

    fn until(&mut self, end: f64, rate: f64) {
        while self.hero.clock < end - 1e-9 {
            self.tick((1.0 / rate).min(end - self.hero.clock), Intent::default().hold(Button::Grab), &[])
                .expect("a tick");
        }
    }

    /// Half the square of the speed, and the height over the lowest point times gravity, m²/s².
    fn energy(&self) -> f64 {
        let middle = self.hero.position + DVec3::Y * 0.5 * f64::from(self.tuning.shape().height);
        let low = self.hero.custom().hook.y - self.hero.custom().length;
        0.5 * self.hero.velocity.length_squared() + self.tuning.falling_gravity() * (middle.y - low)
    }
}

/// The period of a pendulum let go at an angle, by the mean of Gauss (1799): exact for any angle.
fn period(length: f64, gravity: f64, angle: f64) -> f64 {
    let (mut a, mut b) = (1.0, (0.5 * angle).cos());
    for _ in 0..30 {
        (a, b) = (0.5 * (a + b), (a * b).sqrt());
    }
    std::f64::consts::TAU * (length / gravity).sqrt() / a
}

#[test]
fn a_rope_swings_for_a_minute_with_its_energy_and_in_its_time_at_every_rate() {
    let (length, angle) = (5.0, 1.0f64);
    let out = DVec3::new(length * angle.sin(), -length * angle.cos(), 0.0);
    for rate in SIX_RATES {
        let mut rope = Swinging::new(World::new().floor(50.0, 0.0), out, length);
        rope.tick(1e-3, Intent::default().hold(Button::Grab), &[]).expect("a tick");
        let begun = rope.energy();
        let (mut worst, mut turns, mut before) = (0.0f64, Vec::new(), 0.0);
        while rope.hero.clock < 60.0 {
            let was = rope.hero.clock;
            rope.until(was + 1.0 / rate, rate);
            worst = worst.max((rope.energy() / begun - 1.0).abs());
            let x = rope.hero.velocity.x;
            if before < 0.0 && x >= 0.0 {
                // Between the two ticks where it turned.
                turns.push(was + (rope.hero.clock - was) * (before / (before - x)));
            }
            before = x;
        }
        let swings = (turns.len() - 1) as f64;
        let took = (turns[turns.len() - 1] - turns[0]) / swings;
        let exact = period(length, rope.tuning.falling_gravity(), angle);
        println!("{rate} Hz: energy within {:.5} %, {swings} swings of {took:.6} s ({exact:.6})", worst * 100.0);
        assert!(worst < 1e-3, "{rate} Hz: {worst}");
        assert!((took / exact - 1.0).abs() < 1e-4, "{rate} Hz: {took} {exact}");
        assert_eq!(rope.hero.mode, Mode::Custom);
    }
}

#[test]
fn it_ends_when_told_to_or_taken_out_of_it_and_a_tick_that_fails_or_is_taken_back_changes_nothing_of_it() {
    let out = DVec3::new(3.0, -4.0, 0.0);
    let mut rope = Swinging::new(World::new().floor(50.0, 0.0), out, 5.0);
    let grab = Intent::default().hold(Button::Grab);
    rope.tick(0.1, grab, &[]).expect("a tick");
    rope.until(2.0, 60.0);
    assert_eq!(rope.hero.mode, Mode::Custom);
    let saved = rope.hero.clone();
    let wrong = rope.tick(f64::NAN, grab, &[]);
    assert!(wrong.is_err() && rope.hero == saved);
    rope.until(3.0, 60.0);
    let later = rope.hero.hash();
    assert_ne!(later, saved.hash());
    rope.hero = saved.clone();
    rope.until(3.0, 60.0);
    assert_eq!(rope.hero.hash(), later, "its own state is restored with the rest");
    // Grab again lets go: with the speed it has.
    let speed = rope.hero.velocity;
    rope.tick(1e-6, Intent::default(), &[]).expect("a tick");
    rope.tick(1e-6, grab, &[]).expect("a tick");
    assert_eq!(rope.hero.mode, Mode::Air);
    assert!((rope.hero.velocity - speed).length() < 1e-3, "{} {speed}", rope.hero.velocity);
    let ended = |rope: &Swinging| rope.events.iter().filter(|e| e.kind == EventKind::CustomEnded).count();
    assert_eq!(ended(&rope), 1);
    // And so does the game, however it does.
    for command in [Command::Launch(newel::Launch::at(DVec3::Y)), Command::Teleport { to: DVec3::ZERO, facing: None }] {
        rope.hero = saved.clone();
        let before = ended(&rope);
        rope.tick(0.01, grab, &[command]).expect("a tick");
        assert_ne!(rope.hero.mode, Mode::Custom, "{command:?}");
        assert_eq!(ended(&rope), before + 1, "{command:?}");
    }
}

#[test]
fn it_swings_against_walls_and_floors_without_a_hole_in_them() {
    for rate in SIX_RATES {
        // A wall half-way through its swing, and a floor that its feet scrape along.
        let world = World::new().floor(50.0, 14.4).block([1.0, 0.0, -9.0], [3.0, 40.0, 9.0]);
        let tuning = Tuning::walker();
        let mut rope = Swinging::new(world.clone(), DVec3::new(-4.0, -3.0, 0.5), 5.0);
        rope.tick(1e-3, Intent::default().hold(Button::Grab), &[]).expect("a tick");
        let skin = f64::from(tuning.shape().skin());
        for second in 1..40 {
            rope.until(f64::from(second) * 0.25, rate);
            let middle = rope.hero.position + DVec3::Y * 0.5 * f64::from(tuning.shape().height);
            let plain = Character::from(*rope.hero.state());
            assert!(world.clearance(&plain, &tuning) > -skin, "{rate} Hz: {}", rope.hero.position);
            let far = (middle - rope.hero.custom().hook).length();
            assert!(far < 5.0 + 1e-4, "{rate} Hz: {far} m out on a rope of 5 m");
            let (asked, passed) = (rope.hero.custom().asked, rope.hero.clock);
            assert!((asked - passed).abs() < 1e-9, "{rate} Hz: asked to move for {asked} s of {passed}");
        }
        let lost = |k: &EventKind| matches!(k, EventKind::TimeDropped { .. } | EventKind::Stuck);
        assert!(!rope.events.iter().any(|e| lost(&e.kind)), "{rate} Hz: it loses time");
        assert!(
            rope.hero.velocity.length() < 2.0,
            "{rate} Hz: what hits walls loses its speed: {}",
            rope.hero.velocity
        );
    }
}

/// Glides level toward where it looks while the grab button is down, crouched where there is room, and stops a metre short of what it sees;
/// told with 1 when it does.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
struct Glide {
    stopped: bool,
}

impl CustomMode for Glide {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        cx.pressed(Button::Grab)
    }

    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        let (nonsense, view) = (Vec3::new(f32::NAN, 0.0, 0.0), cx.view());
        assert!(cx.cast(cx.middle(), nonsense, 1.0).is_none() && cx.cast(cx.middle(), view, -1.0).is_none());
        assert!(cx.height_over_ground(f64::NAN).is_none());
        assert!(cx.take_stance(Stance::Crouch) && !cx.take_stance(Stance::Prone));
        let ahead = cx.cast(cx.middle(), view, 50.0).map_or(50.0, |hit| hit.distance);
        let speed = if ahead > 1.0001 { 4.0f64.min((ahead - 1.0) / cx.span()) } else { 0.0 };
        if speed == 0.0 && !self.stopped {
            cx.tell(1);
        }
        self.stopped |= speed == 0.0;
        let over = cx.height_over_ground(9.0).expect("a floor below");
        cx.set_velocity(view.as_dvec3() * speed + DVec3::Y * ((1.5 - over) / cx.span()).clamp(-2.0, 2.0));
        cx.slide();
        Next::Stay
    }
}

#[test]
fn it_sees_casts_takes_stances_and_tells_as_the_other_modes_do() {
    let level = World::new().floor(50.0, 0.0).block([20.0, 0.0, -30.0], [22.0, 9.0, 30.0]).mesh();
    let mut values = *Tuning::walker().values();
    values.prone = None;
    let (tuning, modifiers) = (Tuning::new(values).unwrap(), Modifiers::default());
    let view = Vec3::new(0.8, 0.0, 0.6);
    let mut ends = Vec::new();
    for rate in SIX_RATES {
        let mut hero = Character::spawn_with(&level, &tuning, DVec3::Y * 2.0, Glide::default()).unwrap();
        let (mut work, mut told) = (Workspace::new(), Vec::new());
        let intent = Intent::default().looking(view).hold(Button::Grab);
        while hero.clock < 8.0 - 1e-9 {
            let dt = (1.0 / rate).min(8.0 - hero.clock);
            let tick = Tick { number: 0, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt };
            let outcome = tick.step(&mut work, &mut hero, &intent, &[]).unwrap();
            told.extend(
                outcome.events.iter().filter(|e| matches!(e.kind, EventKind::CustomTold { .. })).map(|e| e.time),
            );
        }
        assert_eq!((told.len(), hero.stance, hero.mode), (1, Stance::Crouch, Mode::Custom), "{rate} Hz");
        assert!((hero.position - DVec3::new(19.2, 1.5, 14.4)).length() < 1e-3, "{rate} Hz: {}", hero.position);
        ends.push((told[0], hero.position));
    }
    assert!(ends.iter().all(|end| *end == ends[0]), "{ends:?}");
}

/// Walks where the heading points, at a speed and a rate of its own, and falls where there is no ground.
#[derive(Clone, Copy, Debug, PartialEq)]
struct OwnWalk {
    speed: f64,
    rate: f64,
}

impl CustomMode for OwnWalk {
    fn begins(&mut self, _: &ModeCx<'_, '_>) -> bool {
        true
    }

    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        if cx.held(Button::Jump) && cx.ground().is_some() {
            cx.set_velocity(cx.velocity() + cx.up() * 5.0);
            cx.accelerate(cx.gravity());
            cx.slide();
        } else if !cx.walk(cx.heading().as_dvec3() * self.speed, self.rate) {
            cx.accelerate(cx.gravity());
            cx.slide();
        }
        Next::Stay
    }
}

/// The walker, whose speed changes at one rate whatever it does.
fn even_walker() -> (Tuning, OwnWalk) {
    let mut values = *Tuning::walker().values();
    (values.ledge, values.vault, values.climb, values.ground.ease, values.ground.ease_stop) = Default::default();
    (values.ground.deceleration, values.ground.reversal) = (values.ground.acceleration, values.ground.acceleration);
    (values.ground.uphill, values.ground.downhill) = (1.0, 1.0);
    let own = OwnWalk { speed: values.ground.speed.into(), rate: values.ground.acceleration.into() };
    (Tuning::new(values).unwrap(), own)
}

/// Plays a script until it falls or time is over: the place at each 1/60 s, and the events.
fn walked<M: CustomMode + Clone>(level: &Mesh, tuning: &Tuning, own: M, rate: f64) -> (Vec<DVec3>, Vec<Event>) {
    let (script, modifiers) = (Script::turning(6.0), Modifiers::default());
    let mut hero = Character::spawn_with(level, tuning, DVec3::ZERO, own).unwrap();
    let (mut work, mut places, mut events) = (Workspace::new(), Vec::new(), Vec::<Event>::new());
    for sixtieth in 1..=360 {
        let end = f64::from(sixtieth) / 60.0;
        while hero.clock < end - 1e-9 {
            let (now, dt) = (hero.clock, (1.0 / rate).min(end - hero.clock));
            let tick = Tick { number: 0, terrain: level, tuning, modifiers: &modifiers, dt };
            events.extend(tick.step(&mut work, &mut hero, &script.intent(now, dt), &[]).unwrap().events);
        }
        if !hero.is_on_ground() {
            break;
        }
        places.push(hero.position);
    }
    (places, events)
}

#[test]
fn its_walk_goes_where_walking_goes_at_every_rate() {
    let (tuning, own) = even_walker();
    let (mut dice, mut walked_on, mut steps, mut apart) = (Dice(29), 0, 0, Vec::new());
    for town in 0..40 {
        let level = village(&mut dice).mesh();
        if Character::spawn(&level, &tuning, DVec3::ZERO).is_err() {
            continue;
        }
        let (mine, told) = walked(&level, &tuning, own, 60.0);
        for rate in [37.0, 144.0, 1000.0] {
            assert_eq!(walked(&level, &tuning, own, rate).0, mine, "{town} at {rate} Hz");
        }
        let (plain, _) = walked(&level, &tuning, (), 60.0);
        apart.push(plain.iter().zip(&mine).map(|(a, b)| a.distance(*b)).fold(0.0, f64::max));
        walked_on += mine.len();
        steps += told.iter().filter(|e| matches!(e.kind, EventKind::Stepped { .. })).count();
    }
    // It is asked at each moment of the grid, which cuts its way twice as often: on a dome or an edge that shows.
    apart.sort_by(f64::total_cmp);
    let near = |part: f64| apart[(apart.len() as f64 * part) as usize];
    assert!(near(0.4) < 1e-4 && near(0.7) < 2e-2, "{apart:?}");
    assert!(apart.len() > 30 && walked_on > 10_000 && steps > 100, "{walked_on} sixtieths, {steps} steps");
}

#[test]
fn its_walk_is_carried_falls_off_edges_jumps_and_walks_on() {
    let (tuning, own) = even_walker();
    let deck = World::new().floor(3.0, 0.0).mesh();
    let glide = Track::new(vec![Key::at(0.0, [0.0; 3]), Key::at(4.0, [6.0, 0.0, 0.0])], Ending::Stay).unwrap();
    let mut scene = Scene::new().with(World::new().floor(60.0, -2.0).mesh()).with_moving(3, deck, glide);
    let modifiers = Modifiers::default();
    let (walks, jumps) = (Intent::toward(Vec3::NEG_Z), Intent::toward(Vec3::NEG_Z).hold(Button::Jump));
    let mut ends = Vec::new();
    for rate in SIX_RATES {
        scene.time = 0.0;
        let mut hero = Character::spawn_with(&scene, &tuning, DVec3::ZERO, own).unwrap();
        let (mut work, mut events) = (Workspace::new(), Vec::<Event>::new());
        let mut until = |hero: &mut Character<OwnWalk>, end: f64, intent: &Intent| {
            while hero.clock < end - 2e-9 {
                let dt = (1.0 / rate).min(end - hero.clock);
                scene.time = hero.clock;
                let tick = Tick { number: 0, terrain: &scene, tuning: &tuning, modifiers: &modifiers, dt };
                events.extend(tick.step(&mut work, hero, intent, &[]).unwrap().events);
            }
        };
        until(&mut hero, 0.5, &walks);
        let gone = own.speed * 0.5 - own.speed * own.speed / (2.0 * own.rate);
        let carried = DVec3::new(0.75, 0.0, -gone);
        assert!(hero.is_on_ground() && hero.position.distance(carried) < 1e-4, "{rate} Hz: {}", hero.position);
        until(&mut hero, 3.0, &walks);
        let velocity = DVec3::new(0.0, 0.0, -own.speed);
        assert!(hero.is_on_ground() && (hero.position.y + 2.0).abs() < 1e-4, "{rate} Hz: {}", hero.position);
        assert!(hero.velocity.distance(velocity) < 1e-6, "{rate} Hz: {}", hero.velocity);
        until(&mut hero, 3.1, &jumps);
        let rises = 5.0 - tuning.falling_gravity() * 0.1;
        assert!(!hero.is_on_ground() && (hero.velocity.y - rises).abs() < 1e-4, "{rate} Hz: {}", hero.velocity);
        until(&mut hero, 5.0, &walks);
        assert!(hero.is_on_ground() && hero.mode == Mode::Custom, "{rate} Hz: {}", hero.position);
        ends.push(hero.position);
        let left = events.iter().filter(|e| matches!(e.kind, EventKind::LeftGround { .. })).count();
        assert_eq!(left, 1, "{rate} Hz");
    }
    assert!(ends.iter().all(|end| end.distance(ends[0]) < 1e-4), "{ends:?}");
}

#[test]
fn its_walk_is_crushed_as_often_as_walking_is() {
    // A wall comes at it where it walks against another.
    let (tuning, own) = even_walker();
    let wall = World::new().block([-0.2, 0.0, -3.0], [0.2, 3.0, 3.0]).mesh();
    let comes = Track::new(vec![Key::at(0.0, [-1.5, 0.0, 0.0]), Key::at(2.0, [1.5, 0.0, 0.0])], Ending::Stay).unwrap();
    let still = World::new().floor(20.0, 0.0).block([1.0, 0.0, -3.0], [1.4, 3.0, 3.0]);
    let scene = Scene::new().with(still.mesh()).with_moving(3, wall, comes);
    for rate in SIX_RATES {
        let plain = crushed(scene.clone(), &tuning, (), rate);
        assert!(plain > 10 && crushed(scene.clone(), &tuning, own, rate) == plain, "{rate} Hz: {plain}");
    }
}

/// How often it is told in two seconds, on the way east, that it is crushed.
fn crushed<M: CustomMode + Clone>(mut scene: Scene, tuning: &Tuning, own: M, rate: f64) -> usize {
    let (mut hero, mut work) = (Character::spawn_with(&scene, tuning, DVec3::ZERO, own).unwrap(), Workspace::new());
    let is = |event: &&Event| matches!(event.kind, EventKind::Crushed { .. });
    let mut count = 0;
    for number in 0..(2.0 * rate) as u64 {
        scene.time = number as f64 / rate;
        let tick = Tick { number: 0, terrain: &scene, tuning, modifiers: &Modifiers::default(), dt: 1.0 / rate };
        let outcome = tick.step(&mut work, &mut hero, &Intent::toward(Vec3::X), &[]).unwrap();
        count += outcome.events.iter().filter(is).count();
    }
    count
}

#[test]
fn it_takes_off_from_what_carries_it_with_the_velocity_that_it_set() {
    let (tuning, own) = even_walker();
    let mut values = *tuning.values();
    values.air.carried = 0.25;
    let tuning = Tuning::new(values).unwrap();
    let glide = Track::new(vec![Key::at(0.0, [0.0; 3]), Key::at(4.0, [6.0, 0.0, 0.0])], Ending::Stay).unwrap();
    let mut scene = Scene::new().with_moving(3, World::new().floor(3.0, 0.0).mesh(), glide);
    let (mut hero, mut work) = (Character::spawn_with(&scene, &tuning, DVec3::ZERO, own).unwrap(), Workspace::new());
    let intents = [Intent::default(), Intent::default().hold(Button::Jump)];
    for number in 0..60 {
        scene.time = hero.clock;
        let tick =
            Tick { number: 0, terrain: &scene, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / 60.0 };
        tick.step(&mut work, &mut hero, &intents[number / 50], &[]).unwrap();
    }
    assert!(!hero.is_on_ground() && (hero.velocity.x - 1.5).abs() < 1e-6, "{}", hero.velocity);
}
