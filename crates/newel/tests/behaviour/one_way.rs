//! Floors that are passed from below, stood on from above, and dropped through.

use crate::common::oracle::Dice;
use crate::common::{SIX_RATES, World};
use newel::glam::{DQuat, DVec3, Vec3};
use newel::{
    Button, Ending, EventKind, Intent, Key, Mesh, Mode, Phase, Refusal, Runner, Scene, Track, Tuning, TuningValues,
};

const THIN: u16 = 7;

fn walker() -> Tuning {
    // Whose hands would get it up onto them is another matter.
    let values = TuningValues { ledge: None, climb: None, vault: None, ..*Tuning::walker().values() };
    Tuning::new(values).unwrap()
}

fn ground() -> Mesh {
    World::new().floor(60.0, 0.0).mesh()
}

fn thin(world: World) -> Mesh {
    world.mesh().with_surface(THIN).with_one_way(THIN)
}

fn deck(half: f64, height: f64) -> Mesh {
    thin(World::new().floor(half, height))
}

/// How high it jumps, by the tuning.
fn apex() -> f64 {
    f64::from(walker().values().jump.unwrap().height)
}

struct Hop {
    runner: Runner,
    events: Vec<(f64, EventKind)>,
    tuning: Tuning,
}

impl Hop {
    fn new(scene: &Scene, at: [f64; 3], rate: f64) -> Hop {
        let runner = Runner::spawn(scene, &walker(), at).expect("a clear place").with_rate(rate).unwrap();
        Hop { runner, events: Vec::new(), tuning: walker() }
    }

    fn go(&mut self, scene: &Scene, seconds: f64, intent: Intent) {
        let rate = 1.0 / self.runner.clock.step();
        for _ in 0..(seconds * rate).round() as usize {
            let events = &mut self.events;
            self.runner
                .advance(
                    1.0 / rate,
                    scene,
                    &self.tuning,
                    |_| intent,
                    |tick| {
                        events.extend(tick.events().iter().map(|e| (e.time, e.kind)));
                    },
                )
                .unwrap();
        }
    }

    fn is_on(&self, height: f64) -> bool {
        self.runner.character.mode == Mode::Ground && (self.runner.character.position.y - height).abs() < 1e-3
    }

    fn landed(&self) -> Option<f64> {
        self.events.iter().find(|e| matches!(e.1, EventKind::Landed { .. })).map(|e| e.0)
    }
}

#[test]
fn a_jump_from_below_lands_on_it_where_its_top_is_higher_and_nowhere_else() {
    for part in [0.3, 0.9, 0.995, 0.999, 1.001, 1.005, 1.2] {
        let mut landings = Vec::new();
        for rate in SIX_RATES {
            let height = apex() * part;
            for slab in [false, true] {
                let flat = deck(3.0, height);
                let block = thin(World::new().block([-3.0, height - 0.2, -3.0], [3.0, height, 3.0]));
                let scene = Scene::new().with(ground()).with(if slab { block } else { flat });
                let mut hop = Hop::new(&scene, [0.0, 0.0, 0.0], rate);
                hop.go(&scene, 2.0, Intent::default().hold(Button::Jump));
                let lands = part < 1.0;
                assert!(hop.is_on(if lands { height } else { 0.0 }), "{part} of the apex, {rate} Hz, slab {slab}");
                let bumped = hop.events.iter().any(|e| matches!(e.1, EventKind::Bumped { .. }));
                assert!(!bumped, "{part}, {rate} Hz");
                landings.push(hop.landed().unwrap());
            }
        }
        let (least, most) = landings.iter().fold((f64::MAX, 0.0f64), |(a, b), t| (a.min(*t), b.max(*t)));
        assert!(most - least < 1e-3, "{part}: landings {least} to {most}");
    }
}

#[test]
fn it_drops_through_the_one_it_stands_on_for_as_long_as_tuned() {
    for rate in SIX_RATES {
        // The second is passed within the quarter of a second, the third is not.
        let scene = Scene::new().with(ground()).with(deck(3.0, 4.0)).with(deck(3.0, 3.9)).with(deck(3.0, 2.0));
        let mut hop = Hop::new(&scene, [0.0, 4.0, 0.0], rate);
        hop.go(&scene, 0.2, Intent::default());
        hop.go(&scene, 2.0, Intent::default().hold(Button::Drop));
        assert!(hop.is_on(2.0), "{rate} Hz: {}", hop.runner.character.position);
        let dropped = hop.events.iter().find(|e| matches!(e.1, EventKind::DroppedThrough { surface: THIN })).unwrap().0;
        let fall = (2.0 * 2.0 / walker().falling_gravity()).sqrt();
        let fell = hop.landed().unwrap() - dropped;
        assert!((fell - fall).abs() < 1e-3, "{rate} Hz: {fell} s for {fall}");
        assert_eq!(hop.runner.character.phase, Phase::Plain);
    }
}

#[test]
fn on_the_way_through_it_steers_and_a_wall_does_not_stop_it_half_way() {
    for rate in SIX_RATES {
        // A slab half as thick as the character is high, beside a wall that it could slide down.
        let slab = thin(World::new().block([-3.0, 3.2, -3.0], [3.0, 4.0, 3.0]));
        let wall = World::new().block([1.0, -1.0, -3.0], [2.0, 9.0, 3.0]).mesh();
        let scene = Scene::new().with(ground()).with(slab).with(wall);
        let ends = [0.65f64, 0.0].map(|x| {
            let mut hop = Hop::new(&scene, [x, 4.0, 0.0], rate);
            let slide = Some(newel::WallSlide { speed: 0.5, braking: 40.0 });
            let values = TuningValues { wall_slide: slide, ..*walker().values() };
            hop.tuning = Tuning::new(values).unwrap();
            hop.go(&scene, 0.2, Intent::default());
            hop.go(&scene, 0.2, Intent::toward(Vec3::X).hold(Button::Drop));
            let (at, phase) = (hop.runner.character.position, hop.runner.character.phase);
            assert!(phase == Phase::DropsThrough && at.y < 3.9, "{rate} Hz: {phase:?} at {at}");
            hop.go(&scene, 9.0, Intent::toward(Vec3::X));
            assert!(hop.is_on(0.0), "{rate} Hz: {}", hop.runner.character.position);
            at.x - x
        });
        let steered = 0.5 * f64::from(walker().values().air.acceleration) * 0.2 * 0.2;
        assert!(ends[1] > 0.5 * steered, "{rate} Hz: {ends:?}, steered {steered}");
    }
}

#[test]
fn on_what_is_solid_there_is_nothing_to_drop_through() {
    let solid = Scene::new().with(ground());
    // Half on one that lets it through, half on a kerb of the same height.
    let half = Scene::new().with(ground()).with(deck(3.0, 2.0));
    let half = half.with(World::new().block([-0.05, 0.0, -3.0], [3.0, 2.0, 3.0]).mesh());
    for (scene, height) in [(&solid, 0.0), (&half, 2.0)] {
        let mut hop = Hop::new(scene, [0.0, height, 0.0], 60.0);
        hop.go(scene, 0.5, Intent::default().hold(Button::Drop));
        let refused =
            |e: &(f64, EventKind)| matches!(e.1, EventKind::Refused { why: Refusal::NothingToDropThrough, .. });
        assert!(hop.is_on(height) && hop.events.iter().any(refused), "{:?}", hop.events);
    }
}

#[test]
fn it_walks_through_what_is_at_its_knees_and_up_what_begins_at_its_feet() {
    let rise = 20f64.to_radians().tan();
    let p = DVec3::new;
    let ramp =
        World::new().quad(p(2.0, 0.0, -3.0), p(2.0, 0.0, 3.0), p(8.0, 6.0 * rise, 3.0), p(8.0, 6.0 * rise, -3.0));
    for rate in SIX_RATES {
        let plank = World::new().block([2.0, 0.25, -3.0], [8.0, 0.3, 3.0]);
        let scene = Scene::new().with(ground()).with(thin(plank));
        let mut hop = Hop::new(&scene, [0.0, 0.0, 0.0], rate);
        hop.go(&scene, 2.0, Intent::toward(Vec3::X));
        let speed = hop.runner.character.velocity.x;
        assert!(hop.is_on(0.0) && hop.runner.character.position.x > 5.0, "{rate} Hz");
        assert!((speed - f64::from(walker().values().ground.speed)).abs() < 1e-3, "nothing slowed it: {speed}");
        let scene = Scene::new().with(ground()).with(thin(ramp.clone()));
        let mut hop = Hop::new(&scene, [0.0, 0.0, 0.0], rate);
        hop.go(&scene, 1.5, Intent::toward(Vec3::X));
        let at = hop.runner.character.position;
        assert!(
            hop.runner.character.mode == Mode::Ground && (at.y - (at.x - 2.0) * rise).abs() < 0.05,
            "{rate} Hz: {at}"
        );
        // Back from the far end it walks below.
        let mut hop = Hop::new(&scene, [10.0, 0.0, 0.0], rate);
        hop.go(&scene, 3.0, Intent::toward(Vec3::NEG_X));
        assert!(
            hop.is_on(0.0) && hop.runner.character.position.x < 0.0,
            "{rate} Hz: {}",
            hop.runner.character.position
        );
    }
}

#[test]
fn one_that_rises_takes_along_whom_it_comes_up_under_only_once_they_are_above() {
    let lift = |from: f64, to: f64| {
        let keys = vec![Key::at(0.0, DVec3::Y * from), Key::at(4.0, DVec3::Y * to)];
        Scene::new().with(ground()).with_moving(3, deck(2.0, 0.0), Track::new(keys, Ending::Stay).unwrap())
    };
    for rate in SIX_RATES {
        // It sinks past one who stands, and rises past them again.
        for (from, to) in [(3.0, -3.0), (-3.0, 3.0)] {
            let scene = lift(from, to);
            let mut hop = Hop::new(&scene, [0.0, 0.0, 0.0], rate);
            hop.go(&scene, 4.0, Intent::default());
            let up = if to > from { 3.0 } else { 0.0 };
            assert!(hop.is_on(up), "{rate} Hz, from {from}: {}", hop.runner.character.position);
        }
    }
}

#[test]
fn among_random_ones_none_blocks_from_below_and_none_lets_through_from_above() {
    let mut crossings = 0;
    for world in 0..24u64 {
        let mut dice = Dice(world + 1);
        let mut scene = Scene::new().with(ground());
        let mut planes = Vec::new();
        for _ in 0..8 {
            let middle = DVec3::new(dice.between(-6.0, 6.0), dice.between(0.3, 1.8), dice.between(-6.0, 6.0));
            let lean =
                DQuat::from_rotation_x(dice.between(-0.4, 0.4)) * DQuat::from_rotation_z(dice.between(-0.4, 0.4));
            let half = dice.between(0.8, 3.0);
            planes.push((middle, lean, half));
            scene = scene.with(thin(World::new().floor(half, 0.0).mapped(|p| middle + lean * p)));
        }
        let rate = SIX_RATES[world as usize % 5];
        let mut hop = Hop::new(&scene, [9.0, 0.0, 9.0], rate);
        for _ in 0..30 {
            let way = Vec3::new(dice.between(-1.0, 1.0) as f32, 0.0, dice.between(-1.0, 1.0) as f32);
            let home = (-hop.runner.character.position).as_vec3() * 0.1;
            let wish = Intent::toward((way + home * Vec3::new(1.0, 0.0, 1.0)).clamp_length_max(1.0));
            let intent = if dice.unit() < 0.5 { wish.hold(Button::Jump) } else { wish };
            for _ in 0..(0.3 * rate) as usize {
                let before = hop.runner.character.position;
                hop.go(&scene, 1.0 / rate, intent);
                let after = hop.runner.character.position;
                // Well within the rims nobody who was above one is below it.
                for (middle, lean, half) in &planes {
                    let above = |place: DVec3| {
                        let foot = place + DVec3::Y * f64::from(walker().shape().radius) - *middle;
                        let local = lean.conjugate() * foot;
                        let over = local.x.abs().max(local.z.abs()) < half - 0.4;
                        over.then_some(local.y - f64::from(walker().shape().radius))
                    };
                    if let (Some(was), Some(is)) = (above(before), above(after)) {
                        assert!(!(was > -1e-4 && is < -0.01), "world {world}, {rate} Hz: {was} then {is} at {after}");
                        crossings += usize::from(was < 0.0 && is > 0.0);
                    }
                }
            }
        }
        let stopped = |e: &(f64, EventKind)| matches!(e.1, EventKind::Bumped { .. } | EventKind::HitWall { .. });
        assert!(!hop.events.iter().any(stopped), "world {world}");
    }
    assert!(crossings > 15, "{crossings}");
}
