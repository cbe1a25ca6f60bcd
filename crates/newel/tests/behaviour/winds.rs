//! Air that resists, and winds: the formulas of a first course in mechanics, at six rates and in every frame.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, Walk, World, every_frame};
use newel::glam::{DVec3, Vec3};
use newel::{
    Aim, Button, Character, Command, Effect, EventKind, Gusts, Heading, Hover, Intent, Launch, Mode, Modifiers, Scene,
    Spawn, Tick, Tuning, TuningValues, Wind, Workspace, Zone,
};

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues::default();
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// A gale everywhere, or gusts of it.
fn gale(velocity: DVec3, gusts: Option<Gusts>) -> Zone {
    let wind = Wind { velocity: velocity.as_vec3(), gusts };
    Zone::new(1, DVec3::splat(-1e4), DVec3::splat(1e4), Effect::Wind(wind))
}

/// What a character does in a scene, in ticks of a length, up to a moment.
struct Outing {
    scene: Scene,
    tuning: Tuning,
    hero: Character,
    work: Workspace,
    events: Vec<newel::Event>,
}

impl Outing {
    fn new(scene: Scene, tuning: Tuning, start: Spawn) -> Outing {
        let hero = Character::spawn(&scene, &tuning, start).expect("a clear place");
        Outing { scene, tuning, hero, work: Workspace::new(), events: Vec::new() }
    }

    fn until(&mut self, end: f64, rate: f64, intent: Intent, commands: &[Command]) {
        let mut commands = commands;
        while self.hero.clock < end - 1e-9 {
            let dt = (1.0 / rate).min(end - self.hero.clock);
            self.scene.time = self.hero.clock;
            let modifiers = Modifiers::default();
            let tick = Tick { number: 0, terrain: &self.scene, tuning: &self.tuning, modifiers: &modifiers, dt };
            let outcome = tick.step(&mut self.work, &mut self.hero, &intent, commands).expect("a valid tick");
            self.events.extend(outcome.events);
            commands = &[];
        }
    }
}

/// Where a thing without steering is after `time`, by the formula; and how fast.
fn drifted(from: DVec3, pulled: DVec3, wind: DVec3, drag: f64, time: f64) -> (DVec3, DVec3) {
    let tends = wind + pulled / drag;
    let left = (-drag * time).exp();
    (tends * time + (from - tends) * ((1.0 - left) / drag), tends + (from - tends) * left)
}

#[test]
fn whoever_goes_to_a_place_comes_to_stand_there_in_gusts_and_who_goes_nowhere_is_blown() {
    let gusts = Gusts { every: 0.7, lasts: 0.4, swells: 0.1, lull: 0.2, since: 0.0 };
    let hover = Hover { windage: 0.5, ..Hover::default() };
    let tuning = tuned(|v| (v.ground.windage, v.hover) = (0.2, Some(hover)));
    let place = DVec3::new(3.0, 0.0, -1.0);
    let floor = World::new().floor(30.0, 0.0).mesh();
    let scene = Scene::new().with(floor).with_zone(gale(DVec3::new(5.0, 0.0, 2.0), Some(gusts)));
    let to = |speed: f32| Intent::new(Heading::To { place, speed });
    for (rate, button) in SIX_RATES.into_iter().flat_map(|rate| [(rate, Button::Jump), (rate, Button::Hover)]) {
        let mut outing = Outing::new(scene.clone(), tuning, Spawn::at([0.0; 3]));
        if button == Button::Hover {
            outing.until(0.2, rate, to(1.0).hold(button), &[]);
        }
        outing.until(4.0, rate, to(1.0), &[]);
        let there = outing.hero.position;
        let off = (there - place) * DVec3::new(1.0, 0.0, 1.0);
        assert!(off.length() < 2e-4, "{button:?}, {rate} Hz: {there}");
        for moment in 1..=20 {
            outing.until(4.0 + 0.2 * f64::from(moment), rate, to(1.0), &[]);
            let hero = &outing.hero;
            assert_eq!((hero.position, hero.velocity), (there, DVec3::ZERO), "{button:?}, {rate} Hz");
        }
        // It is on its way, but at no speed of its own.
        let mut idle = Outing::new(scene.clone(), tuning, Spawn::at([0.0; 3]));
        idle.until(3.0, rate, to(0.0), &[]);
        assert!(idle.hero.position.x > 1.0, "{rate} Hz: {}", idle.hero.position);
    }
}

#[test]
fn what_is_thrown_drifts_by_the_formula_at_every_rate() {
    let mut worst = 0.0f64;
    for seed in 0..60 {
        let mut dice = Dice(seed * 5 + 2);
        let drag = dice.magnitude(0.02, 4.0);
        let tuning = tuned(|v| v.air.drag = drag as f32);
        let up = if seed % 2 == 0 { DVec3::Y } else { dice.direction() };
        // To the centimetre per second, as a character remembers it.
        let wind = (dice.direction() * dice.between(0.0, 30.0) * 100.0).round() / 100.0;
        let thrown = dice.direction() * dice.between(0.0, 60.0);
        let launch = [Command::Launch(Launch::at(thrown).steered(0.0, 99.0))];
        let pulled = up.as_vec3().as_dvec3() * -18.0;
        for rate in SIX_RATES {
            let mut outing =
                Outing::new(Scene::new().with_zone(gale(wind, None)), tuning, Spawn::at([0.0; 3]).up(up.as_vec3()));
            for time in [0.7, 3.0, 8.0] {
                outing.until(time, rate, Intent::toward(Vec3::X), if time == 0.7 { &launch } else { &[] });
                let (place, speed) = drifted(thrown, pulled, wind, f64::from(drag as f32), time);
                let off = (outing.hero.position - place).length() / place.length();
                worst = worst.max(off).max((outing.hero.velocity - speed).length() / speed.length().max(1.0));
            }
        }
    }
    println!("off by at most {:.6} % of the way and of the speed", worst * 100.0);
    assert!(worst < 1e-5, "{worst}");
}

#[test]
fn a_fall_through_air_that_resists_lands_when_and_as_fast_as_the_formula_says() {
    let mut worst = 0.0f64;
    for (drag, height) in [(0.3, 2.0), (0.3, 40.0), (2.0, 25.0)].into_iter().flat_map(|c| every_frame().map(move |_| c))
    {
        // By halving: when has it fallen so far?
        let fallen = |time: f64| drifted(DVec3::ZERO, DVec3::Y * -18.0, DVec3::ZERO, drag, time);
        let (mut early, mut late) = (0.0, 60.0);
        for _ in 0..60 {
            let middle = 0.5 * (early + late);
            (early, late) = if -fallen(middle).0.y < height { (middle, late) } else { (early, middle) };
        }
        for rate in SIX_RATES {
            let tuning = tuned(|v| v.air.drag = drag as f32);
            let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuning, [0.0, height, 0.0]);
            walk.go(1.0 / rate, late + 0.5, Intent::default());
            let landed = walk.first(|k| matches!(k, EventKind::Landed { .. })).expect("a landing");
            let EventKind::Landed { speed, fell, .. } = landed.kind else { unreachable!() };
            let said = -fallen(late).1.y;
            worst = worst.max((landed.time / late - 1.0).abs()).max((f64::from(speed) / said - 1.0).abs());
            worst = worst.max((f64::from(fell) / height - 1.0).abs());
        }
    }
    println!("off by at most {:.5} %", worst * 100.0);
    assert!(worst < 1e-4, "{worst}");
}

#[test]
fn the_fastest_fall_stays_an_exact_cap_and_jumps_rise_as_tuned() {
    for rate in SIX_RATES {
        let tuning = tuned(|v| (v.air.drag, v.air.terminal) = (0.5, Some(20.0)));
        let mut walk = Walk::new(World::new().floor(9.0, -200.0), tuning, [0.0; 3]);
        walk.go(1.0 / rate, 4.0, Intent::default());
        assert!((walk.hero.velocity.y + 20.0).abs() < 1e-9, "{rate} Hz: {}", walk.hero.velocity.y);
        // With more drag the air is the slower cap.
        let tuning = tuned(|v| (v.air.drag, v.air.terminal) = (2.0, Some(20.0)));
        let mut walk = Walk::new(World::new().floor(9.0, -200.0), tuning, [0.0; 3]);
        walk.go(1.0 / rate, 9.0, Intent::default());
        assert!((walk.hero.velocity.y + 9.0).abs() < 1e-6, "{rate} Hz: {}", walk.hero.velocity.y);
        let tuning = tuned(|v| v.air.drag = 1.5);
        let mut walk = Walk::new(World::new().floor(9.0, 0.0), tuning, [0.0; 3]);
        walk.go(1.0 / rate, 0.5, Intent::default().hold(Button::Jump));
        let top = walk.first(|k| *k == EventKind::Topped).expect("a top");
        assert!((top.place.y - 1.1).abs() < 1e-4 && (top.time - 0.38).abs() < 1e-4, "{rate} Hz: {top:?}");
    }
}

#[test]
fn steering_holds_against_the_wind_what_it_is_strong_enough_for() {
    for (wind, drag, holds) in [(6.0, 0.5, true), (30.0, 0.5, false)] {
        let ends = SIX_RATES.map(|rate| {
            let tuning = tuned(|v| v.air.drag = drag);
            let scene = Scene::new().with_zone(gale(DVec3::new(-wind, 0.0, 0.0), None));
            let mut outing = Outing::new(scene, tuning, Spawn::at([0.0; 3]));
            outing.until(2.37, rate, Intent::toward(Vec3::X), &[]);
            (outing.hero.position.x, outing.hero.velocity.x)
        });
        // 10 m/s² of steering against a drag of half a metre per second squared for each metre per second.
        let said = if holds { 4.5 } else { -wind + 10.0 / 0.5 };
        for (x, speed) in ends {
            assert!((speed - said).abs() < 1e-6 && (x - ends[5].0).abs() < 1e-4, "{ends:?}");
        }
    }
}

#[test]
fn arcs_through_wind_and_air_that_resists_arrive_at_every_rate_and_none_is_granted_beyond_reach() {
    let (mut worst, mut capped, mut thrown) = (0.0f64, 0, 0);
    for seed in 0..1_500 {
        let mut dice = Dice(seed * 3 + 8);
        let drag = dice.magnitude(0.02, 2.0) as f32;
        let terminal = [None, None, Some(dice.between(4.0, 20.0) as f32)][dice.pick(3)];
        let tuning = tuned(|v| (v.air.drag, v.air.terminal) = (drag, terminal));
        let up = if seed % 2 == 0 { Vec3::Y } else { dice.direction().as_vec3() };
        let wind = (dice.direction() * dice.between(0.0, 15.0) * 100.0).round() / 100.0;
        let mut outing = Outing::new(Scene::new().with_zone(gale(wind, None)), tuning, Spawn::at([0.0; 3]).up(up));
        outing.until(1e-3, 1000.0, Intent::default(), &[]);
        let (hero, way) = (outing.hero, dice.direction() * dice.magnitude(0.5, 40.0));
        let target = hero.position + way;
        let onto = |aim, fastest| Launch::onto(target, aim, fastest, &hero, &tuning, &Modifiers::default());
        let least = onto(Aim::Least, 0.0).expect_err("no speed is not enough").needed;
        let aim = match dice.pick(3) {
            0 => Aim::Least,
            1 => Aim::Time(dice.between(0.3, 3.0)),
            _ => Aim::Top(way.dot(up.as_dvec3()).max(0.0) + dice.between(0.05, 6.0)),
        };
        let needed = onto(aim, 0.0).expect_err("no speed is not enough").needed;
        assert!(needed >= least * (1.0 - 1e-9), "seed {seed}: {aim:?} takes {needed}, the least is {least}");
        if needed >= 198.0 {
            // An updraft that carries it up for ever has no top.
            continue;
        }
        let far = onto(aim, needed / 1.01).expect_err("beyond reach");
        assert!(far.nearest.is_finite() && far.needed == needed, "seed {seed}: {far}");
        let launch = onto(aim, needed / 0.99).expect("within reach");
        thrown += 1;
        let rates = if seed % 10 == 0 { &SIX_RATES[..] } else { &SIX_RATES[seed as usize % 6..][..1] };
        for rate in rates {
            let mut flies =
                Outing { hero: hero.clone(), ..Outing::new(outing.scene.clone(), tuning, Spawn::at([0.0; 3]).up(up)) };
            let end = hero.clock + f64::from(launch.lasts);
            flies.until(end, *rate, Intent::toward(Vec3::X), &[Command::Launch(launch)]);
            worst = worst.max((flies.hero.position - target).length());
            let fell = -flies.hero.velocity.dot(up.as_dvec3());
            capped += u32::from(terminal.is_some_and(|t| (fell / f64::from(t) - 1.0).abs() < 1e-6));
        }
    }
    println!("{thrown} thrown, {capped} of them to the fastest fall, at most {:.4} mm off", worst * 1e3);
    assert!(worst < 0.01 && thrown > 1_200 && capped > 100, "{worst} {thrown} {capped}");
}

#[test]
fn gusts_are_the_same_gusts_at_every_rate() {
    let gusts = Gusts { every: 1.7, lasts: 0.9, swells: 0.2, lull: 0.1, since: 0.3 };
    let floor = World::new().floor(90.0, 0.0).mesh();
    let (tuning, hover) = (tuned(|v| v.ground.windage = 0.15), Hover { windage: 0.5, ..Hover::default() });
    let hovering = tuned(|v| v.hover = Some(hover));
    let flying = tuned(|v| v.air.drag = 0.4);
    let ends = SIX_RATES.map(|rate| {
        let scene = || Scene::new().with_zone(gale(DVec3::new(14.0, 0.0, 3.0), Some(gusts)));
        let mut walks = Outing::new(scene().with(floor.clone()), tuning, Spawn::at([0.0; 3]));
        walks.until(5.0, rate, Intent::toward(Vec3::Z), &[]);
        let mut stands = Outing::new(scene().with(floor.clone()), tuning, Spawn::at([0.0; 3]));
        stands.until(5.0, rate, Intent::default(), &[]);
        assert!(stands.hero.position.x > 3.0 && stands.hero.mode == Mode::Ground);
        let mut hovers = Outing::new(scene(), hovering, Spawn::at([0.0; 3]));
        hovers.until(1e-6, rate, Intent::default().hold(Button::Hover), &[]);
        hovers.until(5.0, rate, Intent::default(), &[]);
        let mut falls = Outing::new(scene(), flying, Spawn::at([0.0; 3]));
        falls.until(5.0, rate, Intent::default(), &[]);
        [walks, stands, hovers, falls].map(|o| o.hero.position)
    });
    for (i, what) in ["walking", "standing", "hovering", "falling"].into_iter().enumerate() {
        let off = ends.iter().map(|end| (end[i] - ends[5][i]).length()).fold(0.0, f64::max);
        println!("{what}: {} after 5 s, {:.4} mm apart", ends[5][i], off * 1e3);
        assert!(off < 1e-3 && ends[5][i].x > 3.0, "{what}: {ends:?}");
    }
}

#[test]
fn out_of_the_wind_and_without_a_hold_for_it_there_is_none() {
    let shaft = Zone::new(
        2,
        DVec3::new(2.0, -1.0, -9.0),
        DVec3::new(4.0, 9.0, 9.0),
        Effect::Wind(Wind::steady(Vec3::Z * 10.0)),
    );
    let scene = Scene::new().with(World::new().floor(30.0, 0.0).mesh()).with_zone(shaft);
    let deaf = Wind::steady(Vec3::splat(f32::NAN));
    let nonsense = Zone::new(3, DVec3::splat(-9.0), DVec3::splat(9.0), Effect::Wind(deaf));
    for (windage, aside) in [(0.2f32, 1.0), (0.0, 0.0)] {
        let tuning = tuned(|v| v.ground.windage = windage);
        let mut outing = Outing::new(scene.clone().with_zone(nonsense), tuning, Spawn::at([0.0; 3]));
        outing.until(2.0, 144.0, Intent::toward(Vec3::X), &[]);
        let hero = outing.hero.clone();
        assert!((hero.position.z - aside * 2.0 * 2.0 / 4.5).abs() <= 0.12 * aside, "{}", hero.position);
        assert!(hero.position.x > 8.0 && hero.velocity.z.abs() < 1e-9 && hero.flow.is_zero(), "{:?}", hero.state());
        outing.until(3.0, 144.0, Intent::default(), &[]);
        assert_eq!(outing.hero.velocity, DVec3::ZERO);
    }
}
