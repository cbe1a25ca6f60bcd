//! What can follow what: the table of docs/design/modes.md is the code's, and every line of it happens.

use crate::common::World;
use newel::glam::{DQuat, DVec3, Vec2, Vec3};
use newel::{
    Button, Character, Climb, Command, CustomMode, Effect, EventKind, Heading, Hold, Hover, Intent, Launch, Ledge,
    Mesh, Mode, ModeCx, Modifiers, Next, Scene, Slide, Solid, Spawn, Tick, Tuning, TuningValues, Water, Workspace,
    Zone,
};

const TABLE: &str = include_str!("../../../../docs/design/modes.md");

fn named(name: &str) -> Mode {
    let word = |mode: &Mode| format!("{mode:?}").to_lowercase() == name;
    Mode::ALL.into_iter().find(word).unwrap_or_else(|| panic!("no mode is called {name}"))
}

/// The lines of the table: from, to.
fn lines() -> Vec<(Mode, Mode)> {
    let part =
        TABLE.split("## Which mode can follow which").nth(1).and_then(|p| p.split("\n## ").next()).expect("the table");
    let rows =
        part.lines().filter(|l| l.starts_with("| ")).skip(2).map(|l| l.split('|').map(str::trim).collect::<Vec<_>>());
    rows.map(|cells| (named(cells[1]), named(cells[2]))).collect()
}

#[test]
fn the_table_is_the_codes() {
    let lines = lines();
    for from in Mode::ALL {
        for to in Mode::ALL {
            let told = lines.iter().filter(|l| **l == (from, to)).count();
            assert_eq!(told, usize::from(from.leads_to().contains(&to)), "{from:?} to {to:?}");
        }
    }
}

/// Begins with the sprint button, and ends with it: a mode that lasts as long as it is held.
#[derive(Clone, Copy)]
struct Held;
impl CustomMode for Held {
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        cx.held(Button::Sprint)
    }
    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
        cx.slide();
        if cx.held(Button::Sprint) { Next::Stay } else { Next::Leave }
    }
}

/// A floor; a wall of ivy at x = 2, 3 m high; a box of 1 m at z = 5; the floor ends at x = -4.
fn place() -> Mesh {
    let floor = World::new().block([-4.0, -1.0, -9.0], [9.0, 0.0, 9.0]);
    let ivy = World::new().block([2.0, 0.0, -2.0], [5.0, 3.0, 2.0]);
    let world = floor.and(ivy).block([2.0, 0.0, 4.0], [5.0, 1.0, 6.0]);
    let surfaces: Vec<u16> = (0..36).map(|i| u16::from((12..24).contains(&i))).collect();
    world.mesh().with_surfaces(&surfaces).expect("surfaces").with_hold(1, Hold::Wall)
}

fn tuning() -> Tuning {
    let slide = Slide { air: false, from: 3.0, ..Slide::default() };
    let climb = Climb { pause: 0.02, ..Climb::default() };
    let values = TuningValues { hover: Some(Hover::default()), climb: Some(climb), ..TuningValues::default() };
    let values = TuningValues { ledge: Some(Ledge::default()), slide: Some(slide), ..values };
    Tuning::new(values).expect("a tuning")
}

/// A beach down along -x into water 3 m deep, with ivy at x = -16 and a kerb at z = 4.
fn shore() -> Scene {
    let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
    let beach = World::new().quad(p(4.0, 1.0, -9.0), p(-8.0, -3.0, -9.0), p(-8.0, -3.0, 9.0), p(4.0, 1.0, 9.0));
    let basin = beach.block([-18.0, -4.0, -9.0], [-8.0, -3.0, 9.0]);
    let walls = World::new().block([-18.0, -3.0, -9.0], [-16.0, 3.0, 4.0]);
    let kerb = World::new().block([-18.0, -3.0, 4.0], [-10.0, 0.1, 9.0]);
    let surfaces: Vec<u16> = (0..38).map(|i| u16::from((14..26).contains(&i))).collect();
    let mesh = basin.and(walls).and(kerb).mesh().with_surfaces(&surfaces).expect("surfaces").with_hold(1, Hold::Wall);
    let water = Effect::Water(Water::flat(DVec3::ZERO, Vec3::Y));
    Scene::new().with(mesh).with_zone(Zone::new(1, DVec3::splat(-30.0), DVec3::new(30.0, 0.0, 30.0), water))
}

struct Story {
    level: Scene,
    tuning: Tuning,
    hero: Character<Held>,
    work: Workspace,
    seen: Vec<(Mode, Mode)>,
    told: Vec<EventKind>,
}

impl Story {
    fn from(at: [f64; 3]) -> Story {
        let (level, tuning) = (Scene::new().with(place()), tuning());
        let hero = Character::spawn_with(&level, &tuning, Spawn::at(at), Held).expect("a clear place");
        Story { level, tuning, hero, work: Workspace::new(), seen: Vec::new(), told: Vec::new() }
    }

    fn at_the_shore(at: [f64; 3]) -> Story {
        let hero = Character::spawn_with(&shore(), &tuning(), Spawn::at(at), Held).expect("a clear place");
        Story { level: shore(), hero, ..Story::from([0.0; 3]) }
    }

    /// For some seconds, in ticks so short that hardly two things happen in one.
    fn go(mut self, seconds: f64, intent: Intent) -> Story {
        for number in 0..(seconds * 1000.0) as u64 {
            self.tick(number, intent, &[]);
        }
        self
    }

    fn tick(&mut self, number: u64, intent: Intent, commands: &[Command]) {
        let before = self.hero.mode;
        let modifiers = Modifiers::default();
        let tick = Tick { number, terrain: &self.level, tuning: &self.tuning, modifiers: &modifiers, dt: 1e-3 };
        let outcome = tick.step(&mut self.work, &mut self.hero, &intent, commands).expect("a valid tick");
        self.told.extend(outcome.events.iter().map(|e| e.kind));
        if before != self.hero.mode {
            self.seen.push((before, self.hero.mode));
        }
    }

    fn thrown(mut self) -> Story {
        self.tick(0, Intent::default(), &[Command::Launch(Launch::at(DVec3::Y * 3.0))]);
        self
    }
}

#[test]
fn every_line_of_it_happens() {
    let east = Intent::toward(Vec3::X);
    let none = Intent::default();
    let stick = |up: f32| Intent::new(Heading::Surface(Vec2::new(0.0, up)));
    let hold = |button: Button| none.hold(button);
    let run_west = |button: Button| Intent::toward(Vec3::NEG_X).hold(button);
    let stories = [
        // A jump, and the landing; the hover button, on the ground and off; over ground and in the air.
        Story::from([0.0, 0.0, 0.0]).go(0.1, hold(Button::Jump)).go(1.5, none),
        Story::from([0.0, 0.0, 0.0]).go(0.1, hold(Button::Hover)).go(0.1, none).go(0.1, hold(Button::Hover)),
        Story::from([0.0, 2.0, 0.0]).go(0.1, hold(Button::Hover)).go(0.1, none).go(0.1, hold(Button::Hover)),
        // The game's own, from the ground, the air and hovering; ended on the ground, in the air, and by a throw.
        Story::from([0.0, 0.0, 0.0]).go(0.1, hold(Button::Sprint)).go(0.1, none),
        Story::from([0.0, 2.0, 0.0])
            .go(0.1, hold(Button::Sprint))
            .go(0.1, none)
            .go(0.01, hold(Button::Sprint))
            .thrown(),
        Story::from([0.0, 2.0, 0.0]).go(0.1, hold(Button::Hover)).go(0.1, hold(Button::Sprint)).thrown(),
        // Slides: ended, and off the edge.
        Story::from([0.0, 0.0, 7.0])
            .go(0.5, Intent::toward(Vec3::NEG_X))
            .go(0.1, run_west(Button::Slide))
            .go(2.0, none),
        Story::from([-1.0, 0.0, 7.0]).go(0.5, Intent::toward(Vec3::NEG_X)).go(0.7, run_west(Button::Slide)),
        // Up the ivy and down, let go and caught again in the air, and over its top.
        Story::from([1.5, 0.0, 0.0]).go(0.6, east).go(1.0, stick(-1.0)),
        Story::from([1.5, 0.0, 0.0]).go(0.7, east).go(0.05, hold(Button::Grab)).go(0.2, east),
        Story::from([1.5, 0.0, 0.0]).go(2.2, east),
        // Down from the top of the ivy onto it.
        Story::from([2.2, 3.0, 0.0]).go(0.1, Intent::toward(Vec3::NEG_X * 1e-3)).go(1.2, hold(Button::Grab)),
        // Onto the box from the ground.
        Story::from([1.5, 0.0, 5.0]).go(1.5, east),
    ];
    let west = Intent::toward(Vec3::NEG_X);
    let swims = [
        // In and out again; a leap; the hover button and the game's own; onto the ivy, and over the kerb.
        Story::at_the_shore([0.0, 0.0, 0.0]).go(4.0, west).go(4.0, east),
        Story::at_the_shore([-12.0, -1.53, 0.0]).go(1.0, none).go(0.1, hold(Button::Jump)).go(1.0, none),
        Story::at_the_shore([-12.0, -1.53, 0.0]).go(1.0, none).go(0.1, hold(Button::Hover)),
        Story::at_the_shore([-12.0, -1.53, 0.0]).go(1.0, none).go(0.1, hold(Button::Sprint)),
        Story::at_the_shore([-15.0, -1.53, 0.0]).go(1.0, west),
        Story::at_the_shore([-12.0, -1.53, 3.0]).go(1.5, Intent::toward(Vec3::Z)),
    ];
    // Caught in the air, and let go of.
    let caught = {
        let world = World::new().floor(20.0, -9.0).block([2.0, -9.0, -2.0], [5.0, 1.4, 2.0]);
        let hero = Character::spawn_with(&world.mesh(), &tuning(), Spawn::at([1.65, 0.2, 0.0]), Held).expect("a place");
        Story { level: Scene::new().with(world.mesh()), hero, ..Story::from([0.0; 3]) }
            .go(0.4, east)
            .go(0.1, hold(Button::Grab))
    };
    let seen: Vec<_> = stories.iter().chain(&swims).chain([&caught]).flat_map(|s| s.seen.iter().copied()).collect();
    let missing: Vec<_> = lines().into_iter().filter(|line| !seen.contains(line)).collect();
    assert!(missing.is_empty(), "never: {missing:?}");
}

/// The niece's rounds tell all the others.
#[test]
fn what_few_courses_tell_is_told_too() {
    let none = Intent::default();
    let solid = |half: f64| Solid::mesh(World::new().block([-half; 3], [half; 3]).mesh());
    let told = |story: &Story, is: fn(&EventKind) -> bool| story.told.iter().filter(|k| is(k)).count();
    let own = Story::from([0.0; 3]).go(0.1, none.hold(Button::Sprint)).go(0.1, none);
    assert_eq!(told(&own, |k| matches!(k, EventKind::CustomBegan)), 1);
    assert_eq!(told(&own, |k| matches!(k, EventKind::CustomEnded)), 1);
    let early = Story::from([0.0, 0.5, 0.0]).go(0.2, none).go(0.3, none.hold(Button::Jump));
    assert_eq!(told(&early, |k| matches!(k, EventKind::Buffered)), 1);
    assert_eq!(told(&early, |k| matches!(k, EventKind::Jumped { .. })), 1);
    // Put a little into what stands beside it, and between the floor and what comes down too low for it.
    let mut beside = Story::from([0.0; 3]);
    beside.level.add(7, solid(1.0), DVec3::new(-1.28, 1.0, 0.0), DQuat::IDENTITY).expect("a body");
    let beside = beside.go(0.1, none);
    assert_eq!(told(&beside, |k| matches!(k, EventKind::PushedOut { .. })), 1);
    assert_eq!(told(&beside, |k| matches!(k, EventKind::Stuck | EventKind::Crushed { .. })), 0);
    let mut within = Story::from([0.0; 3]);
    within.level.add(7, solid(5.0), DVec3::new(0.0, 6.6, 0.0), DQuat::IDENTITY).expect("a body");
    let within = within.go(0.1, none);
    assert_eq!(told(&within, |k| matches!(k, EventKind::Stuck)), 6, "at every mark");
    assert_eq!(within.hero.position, DVec3::ZERO);
    // Pressed to the wall by what comes.
    let mut press = Story::from([1.0, 0.0, 0.0]);
    press.level.add(7, solid(1.0), DVec3::new(-1.0, 1.0, 0.0), DQuat::IDENTITY).expect("a body");
    press.level.take(7, DVec3::new(0.5, 1.0, 0.0), DQuat::IDENTITY, 0..1000).expect("a body");
    let press = press.go(1.0, none);
    assert!(told(&press, |k| matches!(k, EventKind::Crushed { .. })) > 0, "{:?}", press.hero.position);
}
