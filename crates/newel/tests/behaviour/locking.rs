//! Keeping to a target: which one is chosen, how each lock ends, circling, and a view that eases the same at any tick rate.

use crate::common::{SIX_RATES, Walk, World};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Aside, Heading, Intent, Lock, LockEnd, Locking, Mesh, NoTarget, Sights, Target, Terrain, Tuning, TuningValues, When,
};

const VIEW: Vec3 = Vec3::NEG_Z;

fn target(id: u64, x: f64, z: f64) -> Target {
    Target { id, place: DVec3::new(x, 1.0, z), body: 0 }
}

fn sights<'a>(terrain: &'a Mesh, targets: &'a [Target], rate: f64) -> Sights<'a> {
    Sights { terrain: terrain as &dyn Terrain, when: When::tick(0, 1.0 / rate), targets }
}

fn hero() -> Walk {
    // A wall of 2.5 m to the north-east.
    Walk::new(World::new().floor(60.0, 0.0).block([1.0, -0.1, -4.2], [5.0, 2.5, -4.0]), Tuning::walker(), [0.0; 3])
}

#[test]
fn the_best_target_is_the_near_one_ahead_and_each_refusal_has_its_own_reason() {
    let hero = hero();
    let level = hero.world.mesh();
    let take = |targets: &[Target], fits: fn(&Target) -> bool| {
        let mut lock = Lock::new(Locking::default());
        let took = lock.take(&hero.hero, VIEW, &sights(&level, targets, 60.0), fits);
        assert_eq!(took.ok(), lock.on());
        took
    };
    let any: fn(&Target) -> bool = |_| true;
    assert_eq!(take(&[], any), Err(NoTarget::None));
    assert_eq!(take(&[target(1, 0.0, -30.0)], any), Err(NoTarget::TooFar));
    assert_eq!(take(&[target(1, 0.0, 5.0)], any), Err(NoTarget::OffView));
    assert_eq!(take(&[target(1, 4.0, -8.0)], any), Err(NoTarget::Hidden));
    assert_eq!(take(&[target(1, 0.0, -3.0)], |t| t.id != 1), Err(NoTarget::None));
    // Nearer to being taken is what is told.
    assert_eq!(take(&[target(1, 0.0, -30.0), target(2, 4.0, -8.0)], any), Err(NoTarget::Hidden));
    // Ten degrees off are two metres: the one straight ahead wins up to there.
    assert_eq!(take(&[target(1, 0.0, -8.0), target(2, -1.2, -6.8)], any), Ok(1));
    assert_eq!(take(&[target(1, 0.0, -10.0), target(2, -1.2, -6.8)], any), Ok(2));
    assert_eq!(take(&[target(5, 0.5, -6.0), target(3, -0.5, -6.0)], any), Ok(3), "of equals the lower name");
    // Near and wide of the cone, but beside where the view leads.
    assert_eq!(take(&[target(1, 1.2, -1.0)], any), Ok(1));
    // What it is itself does not hide it; nor does a target that is nowhere.
    let wall = Target { body: 0, ..target(1, f64::NAN, 0.0) };
    assert_eq!(take(&[wall], any), Err(NoTarget::None));
}

#[test]
fn it_switches_to_the_next_one_to_the_left_and_to_the_right() {
    let walk = hero();
    let level = walk.world.mesh();
    // Anticlockwise: 1 ahead, 2 to the north-west, 3 behind to the west, 4 in the east; 5 is hidden.
    let all =
        [target(1, 0.0, -6.0), target(2, -4.0, -4.0), target(3, -4.0, 3.0), target(4, 6.0, 0.5), target(5, 4.0, -8.0)];
    let sights = sights(&level, &all, 60.0);
    let mut lock = Lock::new(Locking::default());
    assert_eq!(lock.take(&walk.hero, VIEW, &sights, |_| true), Ok(1));
    for id in [2, 3] {
        assert_eq!(lock.switch(Aside::Left, &walk.hero, &sights, |_| true), Ok(id));
    }
    for id in [2, 1, 4] {
        assert_eq!(lock.switch(Aside::Right, &walk.hero, &sights, |_| true), Ok(id));
    }
    assert_eq!(lock.switch(Aside::Right, &walk.hero, &sights, |t| t.id == 5), Err(NoTarget::None), "to its left");
    assert_eq!(lock.switch(Aside::Left, &walk.hero, &sights, |t| t.id == 5), Err(NoTarget::Hidden));
    assert_eq!(lock.on(), Some(4));
}

#[test]
fn each_way_to_lose_a_target_is_told_once() {
    let ends = |moves: fn(f64) -> Option<DVec3>| {
        let mut walk = hero();
        let level = walk.world.mesh();
        let mut lock = Lock::new(Locking::default());
        let at = |t: f64| moves(t).map(|place| Target { id: 9, place, body: 0 });
        let first = [at(0.0).unwrap()];
        assert_eq!(lock.take(&walk.hero, VIEW, &sights(&level, &first, 60.0), |_| true), Ok(9));
        for tick in 0..600 {
            let targets: Vec<Target> = at(f64::from(tick) / 60.0).into_iter().collect();
            let intent = lock.drive(Intent::default(), &walk.hero, &sights(&level, &targets, 60.0));
            walk.tick(1.0 / 60.0, intent);
            if let Some(end) = lock.take_end() {
                assert_eq!((lock.take_end(), lock.on()), (None, None));
                return (end, f64::from(tick) / 60.0);
            }
        }
        lock.release();
        (lock.take_end().expect("it had one"), 10.0)
    };
    let (end, when) = ends(|t| (t < 1.0).then(|| DVec3::new(0.0, 1.0, -6.0)));
    assert_eq!((end, when), (LockEnd::Vanished, 1.0));
    let (end, when) = ends(|t| Some(DVec3::new(0.0, 1.0, -6.0 - 4.0 * t)));
    assert!(end == LockEnd::TooFar && (when - 19.0 / 4.0).abs() < 0.05, "{end:?} {when}");
    // Behind the wall from the first second on: two seconds of patience.
    let (end, when) = ends(|t| Some(if t < 1.0 { DVec3::new(0.0, 1.0, -6.0) } else { DVec3::new(4.0, 1.0, -8.0) }));
    assert!(end == LockEnd::OutOfSight && (when - 3.0).abs() < 0.04, "{end:?} {when}");
    // In and out of sight is never two seconds on end.
    let blinks: fn(f64) -> Option<DVec3> =
        |t| Some(if t % 2.0 < 1.0 { DVec3::new(0.0, 1.0, -6.0) } else { DVec3::new(4.0, 1.0, -8.0) });
    assert_eq!(ends(blinks).0, LockEnd::Released);
}

#[test]
fn nonsense_makes_no_nonsense() {
    let mut walk = hero();
    let level = walk.world.mesh();
    let all = [target(1, 0.0, -6.0), target(2, 1e30, 0.0), target(3, f64::NAN, 0.0)];
    let wild = Locking {
        keeps: f64::INFINITY,
        reach: f64::INFINITY,
        cone: 180.0,
        ease: f32::NAN,
        offset: Vec2::new(f32::INFINITY, f32::NAN),
        ..Locking::default()
    };
    let mut lock = Lock::new(wild);
    for id in [1, 2, 3] {
        let _ = lock.take(&walk.hero, Vec3::splat(f32::NAN), &sights(&level, &all, 60.0), |t| t.id == id);
        for own in [Intent::default(), Intent::new(Heading::View(Vec2::Y))] {
            let intent = lock.drive(own, &walk.hero, &sights(&level, &all, 60.0));
            assert!(intent.view.is_finite(), "{id}: {intent:?}");
            walk.tick(1.0 / 60.0, intent);
            assert!(walk.hero.position.is_finite());
        }
    }
}

/// Slower to the side and backward, so that what counts as sideways shows.
fn fencer() -> Tuning {
    let mut values: TuningValues = *Tuning::walker().values();
    (values.ground.sideways, values.ground.backward) = (0.6, 0.5);
    Tuning::new(values).unwrap()
}

#[test]
fn it_circles_at_its_own_speed_and_distance_and_looks_there() {
    let mut ends = Vec::new();
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(60.0, 0.0), fencer(), [0.0; 3]);
        let level = walk.world.mesh();
        let lantern = [target(1, 0.0, -4.0)];
        let sights = sights(&level, &lantern, rate);
        let mut lock = Lock::new(Locking::default());
        lock.take(&walk.hero, VIEW, &sights, |_| true).unwrap();
        let own = Intent::new(Heading::View(Vec2::new(1.0, 0.0)));
        for tick in 0..(10.0 * rate) as usize {
            let intent = lock.drive(own, &walk.hero, &sights);
            walk.tick(1.0 / rate, intent);
            if tick as f64 / rate < 1.0 {
                continue;
            }
            let off = walk.hero.position - DVec3::new(0.0, 0.0, -4.0);
            assert!((off.length() - 4.0).abs() < 0.03, "{rate} Hz: {} m", off.length());
            assert!(
                (walk.hero.velocity.length() - 0.6 * 4.5).abs() < 0.01,
                "{rate} Hz: {}",
                walk.hero.velocity.length()
            );
            let facing = walk.hero.facing.as_dvec3().dot(off / off.length());
            assert!(facing < -0.99985, "{rate} Hz: it looks {facing}");
            let angle = walk.readout.as_ref().unwrap().angle;
            assert!((angle.abs() - 90.0).abs() < 2.0, "to its right, as seen from its facing: {angle}");
        }
        ends.push((rate, walk.hero.position));
    }
    for (rate, place) in &ends {
        let apart = (*place - ends[2].1).length();
        assert!(apart < 5e-3, "{rate} Hz: {apart} m from where it is at 60 Hz after 10 s");
    }
}

#[test]
fn the_view_eases_to_its_offset_by_the_formula_and_back_without_a_snap() {
    for rate in SIX_RATES {
        let mut walk = Walk::new(World::new().floor(60.0, 0.0), Tuning::walker(), [0.0; 3]);
        let level = walk.world.mesh();
        let eyes = f64::from(walk.hero.eyes);
        // 90 degrees to the left, at the height of its eyes.
        let lamp = [Target { id: 1, place: DVec3::new(-8.0, eyes, 0.0), body: 0 }];
        let sights = sights(&level, &lamp, rate);
        let locking = Locking { ease: 0.2, offset: Vec2::new(10.0, 5.0), cone: 100.0, ..Locking::default() };
        let mut lock = Lock::new(locking);
        lock.take(&walk.hero, VIEW, &sights, |_| true).unwrap();
        let mut look = |lock: &mut Lock| {
            let intent = lock.drive(Intent::default(), &walk.hero, &sights);
            walk.tick(1.0 / rate, intent);
            let v = intent.view.as_dvec3();
            ((-v.x).atan2(-v.z).to_degrees(), v.y.asin().to_degrees())
        };
        let angles = |t: f64| (100.0 * (1.0 - (-t / 0.2).exp()), 5.0 * (1.0 - (-t / 0.2).exp()));
        for tick in 0..(2.0 * rate) as usize {
            let (left, up) = look(&mut lock);
            let (want_left, want_up) = angles(tick as f64 / rate);
            assert!((left - want_left).abs() < 0.01 && (up - want_up).abs() < 0.01, "{rate} Hz: {left} {up}");
        }
        lock.release();
        assert_eq!(lock.take_end(), Some(LockEnd::Released));
        let mut before = look(&mut lock).0;
        for _ in 0..(3.0 * rate) as usize {
            let (left, _) = look(&mut lock);
            let most = 101.0 * (1.0 - (-1.0 / rate / 0.2).exp()) + 0.01;
            assert!(before - left <= most && left <= before + 1e-3, "{rate} Hz: {before} to {left}");
            before = left;
        }
        assert!(before.abs() < 1e-3, "its own view again: {before}");
    }
}
