//! Going to a place by itself: how it ends, each way with its own reason, and that it always does.

use crate::common::oracle::Dice;
use crate::common::worlds::village;
use crate::common::{SIX_RATES, Walk, World, sample};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    AtSolid, Barred, Button, Change, Character, Ending, EventKind, Face, GoEnd, GoTo, Going, Heading, Intent, Key,
    LowStance, Mesh, Modifiers, OwnHeading, Pacing, Patch, Patrol, RayHit, Round, Runner, Scene, Stance, Terrain, Tick,
    Timed, Track, Tuning, TuningValues, When, Workspace,
};

const LONGEST: f64 = 20.0;

/// Goes to `place` until it ends, with what the player does by the clock.
fn go(walk: &mut Walk, rate: f64, going: Going, place: DVec3, own: impl Fn(f64) -> Intent) -> GoEnd {
    let mut driver = GoTo::new(going);
    let start = walk.hero.clock;
    driver.go(place);
    while walk.hero.clock < start + LONGEST {
        let intent = driver.drive(own(walk.hero.clock - start), &walk.hero, walk.readout.as_ref());
        if let Some(end) = driver.take_end() {
            assert_eq!((driver.place(), driver.take_end()), (None, None), "told once");
            return end;
        }
        walk.tick(1.0 / rate, intent);
    }
    panic!("no end in {LONGEST} s: {:?} for {place}", walk.hero.position)
}

fn none(_: f64) -> Intent {
    Intent::default()
}

/// A floor with a wall across it, 3 m to the east and 4 m long, and a table of 3 m behind.
fn yard() -> World {
    World::new().floor(40.0, 0.0).block([3.0, -0.1, -2.0], [3.2, 3.0, 2.0]).block([-8.0, -0.1, -2.0], [-4.0, 3.0, 2.0])
}

fn walker(at: [f64; 3]) -> Walk {
    Walk::new(yard(), Tuning::walker(), at)
}

#[test]
fn each_end_has_its_own_reason() {
    let p = DVec3::new;
    for rate in SIX_RATES {
        let go = |start: [f64; 3], place: DVec3, going: Going| {
            let mut walk = walker(start);
            let end = go(&mut walk, rate, going, place, none);
            (end, walk)
        };
        let (end, walk) = go([0.0; 3], p(2.0, 0.0, 5.0), Going::default());
        assert!(matches!(end, GoEnd::Arrived { off } if off < 1e-5), "{end:?}");
        assert!((walk.hero.position - p(2.0, 0.0, 5.0)).length() < 1e-6);

        // Straight against the wall; as soon as it touches, or after its patience of a second.
        for (at_solid, waits) in [(AtSolid::Ends, 0.0), (AtSolid::Slides, 1.0)] {
            let (end, walk) = go([0.0; 3], p(8.0, 0.0, 0.0), Going { at_solid, ..Going::default() });
            let GoEnd::Blocked { by, left } = end else { panic!("{rate} Hz: {end:?}") };
            let Barred { body, edge, .. } = by;
            let contact = walk.hero.position.x;
            assert!((body, edge) == (0, false) && (contact + 0.3 - 3.0).abs() < 0.02, "{by:?} {contact}");
            assert!((left - (8.0 - contact)).abs() < 1e-9);
            let late = walk.hero.clock - (contact / 4.5 + 0.075) - waits;
            assert!((-1e-6..2.0 / rate + 0.01).contains(&late), "{rate} Hz, {at_solid:?}: {late} s late");
        }

        // A wall met askew is gone along and round.
        let (end, _) = go([0.0, 0.0, 1.0], p(5.0, 0.0, 3.5), Going::default());
        assert!(matches!(end, GoEnd::Arrived { .. }), "{rate} Hz: {end:?}");

        let (end, _) = go([0.0; 3], p(0.5, 3.0, 1.0), Going::default());
        assert!(matches!(end, GoEnd::OtherFloor { higher } if (higher - 3.0).abs() < 1e-6), "{end:?}");
        let (end, _) = go([-6.0, 3.0, 0.0], p(-6.0, 0.0, 1.0), Going::default());
        assert!(matches!(end, GoEnd::OtherFloor { higher } if (higher + 3.0).abs() < 1e-6), "{end:?}");

        // Falls off the table on the way, and goes on.
        let (end, walk) = go([-5.0, 3.0, 0.0], p(-5.0, 0.0, 6.0), Going::default());
        assert!(matches!(end, GoEnd::Arrived { .. }), "{rate} Hz: {end:?} {}", walk.hero.position);

        let (end, walk) = go([0.0; 3], p(5.0, f64::NAN, 0.0), Going::default());
        assert!(end == GoEnd::NoPlace && walk.hero.position == DVec3::ZERO);

        let mut held = walker([0.0; 3]);
        held.modifiers.speed = 0.0;
        let end = self::go(&mut held, rate, Going::default(), p(1.0, 0.0, 0.0), none);
        assert!(end == GoEnd::NoNearer { left: 1.0 } && held.hero.clock < 1.0 + 2.0 / rate, "{end:?}");
    }
}

#[test]
fn the_edge_that_it_does_not_walk_over_is_a_reason_too() {
    let mut values: TuningValues = *Tuning::walker().values();
    values.crouch = Some(LowStance { guard: true, ..LowStance::crouch() });
    for rate in SIX_RATES {
        let mut walk = Walk::new(yard(), Tuning::new(values).unwrap(), [-5.0, 3.0, 0.0]);
        let crouched = |_: f64| Intent::default().in_stance(Stance::Crouch);
        let end = go(&mut walk, rate, Going::default(), DVec3::new(-5.0, 0.0, 6.0), crouched);
        assert!(matches!(end, GoEnd::Blocked { by, .. } if by.edge), "{rate} Hz: {end:?}");
        assert!((walk.hero.position.y - 3.0).abs() < 0.05, "{}", walk.hero.position);
    }
}

#[test]
fn what_the_player_does_meanwhile_is_kept_and_a_heading_does_as_tuned() {
    let place = DVec3::new(0.0, 0.0, 6.0);
    let stick = |pressed: f32| move |t: f64| if t > 0.2 && t < 0.7 { view(pressed) } else { Intent::default() };
    fn view(pressed: f32) -> Intent {
        Intent::new(Heading::View(Vec2::new(pressed, 0.0)))
    }
    for rate in SIX_RATES {
        for (own_heading, pressed, overruled) in [
            (OwnHeading::Cancels, 1.0, true),
            (OwnHeading::Cancels, 0.1, false),
            (OwnHeading::Leads, 1.0, false),
            (OwnHeading::Ignored, 1.0, false),
        ] {
            let mut walk = walker([0.0; 3]);
            let end = go(&mut walk, rate, Going { own_heading, ..Going::default() }, place, stick(pressed));
            assert_eq!(end == GoEnd::Overruled, overruled, "{own_heading:?}, {pressed} at {rate} Hz: {end:?}");
            let led = walk.hero.clock > 1.9;
            assert_eq!(led, own_heading == OwnHeading::Leads, "it cost time where the player led: {}", walk.hero.clock);
        }
        // A heading from the middle of a tick on is one too.
        let mut driver = GoTo::new(Going::default());
        driver.go(place);
        let late = Timed { at: 0.5 / rate, change: Change::Heading(Heading::World(Vec3::X)) };
        driver.drive(Intent::default().then(late).unwrap(), &walker([0.0; 3]).hero, None);
        assert_eq!(driver.take_end(), Some(GoEnd::Overruled));

        // Buttons, view and stance stay the player's; the face is the driver's.
        let mut walk = walker([0.0; 3]);
        let jumps = |t: f64| if t > 0.3 { Intent::default().hold(Button::Jump) } else { Intent::default() };
        let end = go(&mut walk, rate, Going { face: Face::Nothing, ..Going::default() }, place, jumps);
        assert!(matches!(end, GoEnd::Arrived { off } if off < 1e-3), "{end:?}");
        assert!(walk.first(|k| matches!(k, EventKind::Jumped { .. })).is_some());
        assert!((walk.hero.facing - Vec3::NEG_Z).length() < 1e-6, "{}", walk.hero.facing);
    }
}

#[test]
fn a_place_that_moves_is_followed_and_one_as_fast_as_it_for_ever() {
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(200.0, 0.0), Tuning::walker(), [0.0; 3]);
        let mut driver = GoTo::new(Going::default());
        let mut far = Vec::new();
        while walk.hero.clock < 20.0 {
            // Ahead of it at its own top speed, with a bend; then it stands.
            let t = walk.hero.clock.min(15.0);
            let place = DVec3::new(4.5 * t + 3.0, 0.0, (t * 0.7).sin());
            driver.go(place);
            let intent = driver.drive(Intent::default(), &walk.hero, walk.readout.as_ref());
            assert!(driver.take_end().is_none() || walk.hero.clock > 15.5, "at {} s", walk.hero.clock);
            walk.tick(1.0 / rate, intent);
            far.push((walk.hero.position - place).length());
        }
        assert!(*far.last().unwrap() < 1e-3 && far.iter().all(|far| *far < 6.5), "{rate} Hz");
    }
}

#[test]
fn a_moving_body_is_named_and_the_front_hands_the_driver_what_it_needs() {
    let keys = vec![Key::at(0.0, DVec3::ZERO), Key::at(2.0, DVec3::X), Key::at(4.0, DVec3::ZERO)];
    let track = Track::new(keys, Ending::Again).unwrap();
    let gate = World::new().block([3.0, 0.1, -4.0], [3.2, 3.0, 4.0]).mesh();
    let mut scene = Scene::new().with(World::new().floor(40.0, 0.0).mesh()).with_moving(7, gate, track);
    let tuning = Tuning::walker();
    let mut hero = Runner::spawn(&scene, &tuning, [0.0; 3]).unwrap();
    let mut driver = GoTo::new(Going::default());
    driver.go(DVec3::new(10.0, 0.0, 0.0));
    while hero.character.clock < LONGEST && driver.place().is_some() {
        scene.time = hero.character.clock;
        hero.advance(1.0 / 60.0, &scene, &tuning, |me| driver.drive(Intent::default(), me, me.last), |_| {}).unwrap();
    }
    let end = driver.take_end();
    assert!(matches!(end, Some(GoEnd::Blocked { by, .. }) if by.body == 7 && by.normal.x < -0.99), "{end:?}");
    driver.go(DVec3::ZERO);
    driver.cancel();
    assert_eq!((driver.take_end(), driver.place()), (Some(GoEnd::Cancelled), None));
}

#[test]
fn in_any_village_every_click_comes_to_an_end_that_is_true() {
    let mut ends = [0u32; 4];
    for seed in 0..sample(400) {
        let mut dice = Dice(seed * 77 + 3);
        let tuning = Tuning::preset(Tuning::PRESETS[dice.pick(Tuning::PRESETS.len())]).unwrap();
        let Some(mut walk) = Walk::try_new(village(&mut dice), tuning, [0.0, 0.0, 0.0]) else { continue };
        let rate = SIX_RATES[dice.pick(6)];
        for _ in 0..4 {
            let place = DVec3::new(dice.between(-10.0, 10.0), 0.0, dice.between(-10.0, 10.0));
            let end = go(&mut walk, rate, Going::default(), place, none);
            let left = walk.hero.position - place;
            let over_map = DVec3::new(left.x, 0.0, left.z).length();
            let kind = match end {
                GoEnd::Arrived { off } => {
                    assert!((off - over_map).abs() < 1e-9 && off <= 0.1 && left.y.abs() <= 0.5, "seed {seed}: {end:?}");
                    0
                }
                GoEnd::OtherFloor { higher } => {
                    assert!(over_map <= 0.1 && higher.abs() > 0.5 && (higher + left.y).abs() < 1e-9, "{end:?}");
                    1
                }
                GoEnd::Blocked { by, left: far } => {
                    assert!((far - over_map).abs() < 1e-9 && over_map > 1e-4, "seed {seed}: {end:?}");
                    // What it names is something it touches, in the way and solid.
                    let touches = (by.point - walk.hero.position).length() < 2.0;
                    assert!(touches && by.normal.as_dvec3().dot(-left) < 0.0 && !by.edge, "seed {seed}: {by:?}");
                    2
                }
                GoEnd::NoNearer { .. } => 3,
                other => panic!("seed {seed}: {other:?}"),
            };
            ends[kind] += 1;
        }
    }
    println!("{ends:?} arrived, on another floor, blocked, no nearer");
    assert!(u64::from(ends[0]) > sample(500) && u64::from(ends[2]) > sample(200), "{ends:?}");
    assert_eq!(ends[3], 0, "it knows why");
}

/// Paces for so many seconds; where it turned.
fn pace(walk: &mut Walk, rate: f64, patrol: &mut Patrol, seconds: f64) -> Vec<DVec3> {
    let mut turned = Vec::new();
    let end = walk.hero.clock + seconds;
    while walk.hero.clock < end {
        let turns = patrol.turns();
        let intent = patrol.drive(Intent::default(), &walk.hero, walk.readout.as_ref());
        if patrol.turns() > turns {
            turned.push(walk.hero.position);
        }
        walk.tick(1.0 / rate, intent);
    }
    turned
}

#[test]
fn to_and_fro_it_turns_at_walls_edges_and_bounds_and_nowhere_else() {
    // A roof with a wall at its east end, its west end open, and nothing below.
    let roof = World::new().block([-6.0, -1.0, -3.0], [6.0, 0.0, 3.0]).block([5.0, -1.0, -3.0], [6.0, 2.0, 3.0]);
    let tuning = Tuning::walker();
    let overhang = 0.3 * 0.98 * f64::from(tuning.values().ground.overhang);
    for rate in SIX_RATES {
        for (bounds, west) in [(None, -6.0 - overhang), (Some([DVec3::splat(-2.0), DVec3::splat(90.0)]), -2.0)] {
            let mut walk = Walk::new(roof.clone(), tuning, [0.0; 3]);
            let mut patrol = Patrol::new(Pacing { bounds, pause: 0.5, ..Pacing::default() }, Vec3::X, 0);
            let turned = pace(&mut walk, rate, &mut patrol, 30.0);
            assert!(walk.first(|k| matches!(k, EventKind::LeftGround { .. })).is_none());
            // At the bound it turns, a hair before it.
            let late = if bounds.is_some() { 0.011 } else { 2e-3 };
            for (turn, place) in turned.iter().enumerate() {
                let (at, late) = if turn % 2 == 0 { (4.7, 1e-3) } else { (west, late) };
                let off = (place.x - at).abs();
                assert!(off < late && place.z.abs() < 1e-6, "{rate} Hz, turn {turn}: {place}, not {at}");
            }
            // Each way at full speed, but for the gain, the stop and the pause.
            let each = (4.7 - west) / 4.5 + 0.8;
            let most = 30.0 / (each - 0.3);
            assert!((30.0 / (each + 0.2)..most).contains(&(turned.len() as f64)), "{rate} Hz: {}", turned.len());
        }
    }
}

#[test]
fn wandering_stays_in_bounds_by_its_seed() {
    let bounds = Some([DVec3::new(-5.0, -1.0, -5.0), DVec3::new(5.0, 9.0, 5.0)]);
    let pacing = Pacing { bounds, wanders: Some(1.5), ..Pacing::default() };
    for rate in SIX_RATES {
        let paths = [7, 7, 8].map(|seed| {
            let mut walk = Walk::new(World::new().floor(40.0, 0.0), Tuning::walker(), [0.0; 3]);
            let mut patrol = Patrol::new(pacing, Vec3::X, seed);
            let turned = pace(&mut walk, rate, &mut patrol, 60.0);
            let worst = turned.iter().map(|p| p.abs().max_element()).fold(0.0, f64::max);
            assert!(worst < 5.0 + 1e-3, "{rate} Hz: {worst}");
            assert!(turned.len() > 40, "{}", turned.len());
            walk.hero.position
        });
        assert!(paths[0] == paths[1] && (paths[0] - paths[2]).length() > 0.1, "{paths:?}");
    }
}

/// A level, and others in it as they stood.
struct Among<'a>(&'a Mesh, &'a [DVec3], usize);

impl Terrain for Among<'_> {
    fn gather(&self, when: When, patch: &mut Patch) {
        self.0.gather(when, patch);
        for (id, &feet) in self.1.iter().enumerate().filter(|(id, _)| *id != self.2) {
            let feet = (feet - patch.origin()).as_vec3();
            if feet.length() < 5.0 {
                patch.add_round(Round { id: id as u32, ..Round::of(&Tuning::walker().shape(), feet, Vec3::Y) });
            }
        }
    }
    fn cast(&self, when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        self.0.cast(when, from, along, length)
    }
}

#[test]
fn many_at_once_do_not_pile_up() {
    let (level, tuning) = (World::new().floor(40.0, 0.0).mesh(), Tuning::walker());
    let bounds = Some([DVec3::new(-6.0, -1.0, -6.0), DVec3::new(6.0, 9.0, 6.0)]);
    for wanders in [None, Some(2.0)] {
        let pacing = Pacing { bounds, wanders, speed: 0.5, ..Pacing::default() };
        let place = |i: usize| DVec3::new((i % 6) as f64 * 1.6 - 4.0, 0.0, (i / 6) as f64 * 1.6 - 4.0);
        let way = |i: usize| Vec3::new((i as f32 * 2.4).cos(), 0.0, (i as f32 * 2.4).sin());
        let mut all: Vec<_> = (0..36)
            .map(|i| {
                let hero = Character::spawn(&level, &tuning, place(i)).unwrap();
                (hero, Patrol::new(pacing, way(i), i as u64), None, 0u32)
            })
            .collect();
        let mut work = Workspace::new();
        for number in 0..3600 {
            let feet: Vec<DVec3> = all.iter().map(|(hero, ..)| hero.position).collect();
            for (me, (hero, patrol, last, moving)) in all.iter_mut().enumerate() {
                let terrain = Among(&level, &feet, me);
                let modifiers = Modifiers::default();
                let tick = Tick { number, terrain: &terrain, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 60.0 };
                let intent = patrol.drive(Intent::default(), hero, last.as_ref());
                let readout = tick.step(&mut work, hero, &intent, &[]).unwrap().readout;
                *moving += u32::from(readout.speed > 1.0);
                *last = Some(readout);
            }
        }
        let least = all.iter().map(|(.., moving)| *moving).min().unwrap();
        let out = all.iter().map(|(hero, ..)| hero.position.abs().max_element()).fold(0.0, f64::max);
        println!("{wanders:?}: the idlest went {:.0} % of a minute, {out:.2} m out", f64::from(least) / 36.0);
        assert!(least > 1800 && out < 7.5, "{wanders:?}: {least} of 3600 ticks, {out} m out");
    }
}

#[test]
fn patrols_keep_within_their_bounds() {
    let (tuning, level) = (Tuning::walker(), World::new().floor(30.0, 0.0).mesh());
    let (low, high) = (DVec3::new(-3.0, -9.0, -2.0), DVec3::new(4.0, 9.0, 2.5));
    for rate in SIX_RATES {
        for wanders in [None, Some(1.3)] {
            let pacing = Pacing { bounds: Some([low, high]), wanders, ..Pacing::default() };
            let mut patrol = Patrol::new(pacing, Vec3::new(1.0, 0.0, 0.3), 7);
            let mut hero = Character::spawn(&level, &tuning, [0.0; 3]).unwrap();
            let (mut work, mut last, mut furthest) = (Workspace::new(), None, 0.0f64);
            for number in 0..(60.0 * rate) as u64 {
                let intent = patrol.drive(Intent::default(), &hero, last.as_ref());
                let modifiers = Modifiers::default();
                let tick = Tick { number, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / rate };
                last = Some(tick.step(&mut work, &mut hero, &intent, &[]).unwrap().readout);
                furthest = furthest.max((hero.position - hero.position.clamp(low, high)).length());
            }
            assert!(furthest < 5e-3 && patrol.turns() > 15, "{rate} Hz, {wanders:?}: {furthest} m, {}", patrol.turns());
        }
    }
}
