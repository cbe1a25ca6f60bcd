//! Routes and trips: how long they are, what they use, how each ends, and that the walk is what was planned.

use newel::glam::{DVec3, Vec3};
use newel::{
    Before, Character, Effect, Heading, Hold, Intent, Mesh, OwnHeading, Runner, Scene, Spawn, Stance, Terrain, Tuning,
    TuningValues, Water, Zone,
};
use newel_routes::{
    AfterLast, By, LinkKind, NoPlace, Planning, Route, Routes, Short, Stop, Survey, SurveyError, Travel, Trip, TripEnd,
};

const SIX_RATES: [f64; 6] = [15.0, 30.0, 60.0, 144.0, 240.0, 1000.0];

fn p(x: f64, y: f64, z: f64) -> DVec3 {
    DVec3::new(x, y, z)
}

/// Quads being put together.
#[derive(Default)]
struct World {
    corners: Vec<[f32; 3]>,
    indices: Vec<u32>,
    surfaces: Vec<u16>,
}

impl World {
    fn quad(mut self, corners: [[f32; 3]; 4], surface: u16) -> World {
        let n = self.corners.len() as u32;
        self.corners.extend(corners);
        self.indices.extend([0, 1, 2, 0, 2, 3].map(|i| n + i));
        self.surfaces.extend([surface; 2]);
        self
    }

    fn floor(self, low: [f32; 2], high: [f32; 2], y: f32) -> World {
        self.quad([[low[0], y, low[1]], [high[0], y, low[1]], [high[0], y, high[1]], [low[0], y, high[1]]], 0)
    }

    /// A box, of a surface all round.
    fn block(self, a: [f32; 3], b: [f32; 3], surface: u16) -> World {
        let c = |i: usize| {
            [
                if i & 1 == 0 { a[0] } else { b[0] },
                if i & 2 == 0 { a[1] } else { b[1] },
                if i & 4 == 0 { a[2] } else { b[2] },
            ]
        };
        let faces = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]];
        faces.into_iter().fold(self, |world, face| world.quad(face.map(c), surface))
    }

    fn mesh(&self) -> Mesh {
        Mesh::new(&self.corners, &self.indices).unwrap().with_surfaces(&self.surfaces).unwrap()
    }
}

/// A yard with a wall across it, 12 m of it to walk round.
fn yard() -> World {
    World::default().floor([-12.0, -12.0], [12.0, 12.0], 0.0).block([2.0, -0.1, -12.0], [2.4, 2.5, 6.0], 0)
}

fn routes(tuning: &Tuning) -> Routes {
    Routes::new(Survey::of(tuning), tuning).unwrap()
}

fn with(change: impl FnOnce(&mut TuningValues)) -> Tuning {
    let mut values = *Tuning::walker().values();
    change(&mut values);
    Tuning::new(values).unwrap()
}

/// Drives until the trip ends: how, when, and whoever went.
fn go(
    level: &dyn Terrain,
    tuning: &Tuning,
    routes: &Routes,
    trip: &mut Trip,
    from: DVec3,
    rate: f64,
) -> (TripEnd, f64, Character) {
    let mut hero = Runner::spawn(level, tuning, from).unwrap().with_rate(rate).unwrap();
    for _ in 0..(60.0 * rate) as usize {
        hero.advance(1.0 / rate, level, tuning, |me| trip.drive(Intent::default(), me, level, routes), |_| {}).unwrap();
        if let Some(end) = trip.take_end() {
            assert!(trip.place().is_none() && trip.take_end().is_none(), "told once");
            return (end, hero.character.clock, hero.character);
        }
    }
    panic!("no end: at {} on {:?}", hero.character.position, trip.route());
}

fn arrives(level: &dyn Terrain, tuning: &Tuning, from: DVec3, to: DVec3) -> Route {
    arrives_in(level, tuning, from, to, 1.05)
}

/// Arrives at six rates in at most so many times as long as planned.
fn arrives_in(level: &dyn Terrain, tuning: &Tuning, from: DVec3, to: DVec3, late: f64) -> Route {
    let routes = routes(tuning);
    let route = routes.plan_at_once(level, from, to).unwrap();
    assert_eq!(route.short, None, "{route:?}");
    for rate in SIX_RATES {
        let mut trip = Trip::new(Travel::default());
        trip.go(to);
        let (end, seconds, hero) = go(level, tuning, &routes, &mut trip, from, rate);
        assert!(matches!(end, TripEnd::Arrived { off } if off < 1e-3), "{rate} Hz: {end:?} at {}", hero.position);
        assert!(
            (hero.position - route.end()).length() < 0.02_f64.max(0.4 * (late - 1.05)),
            "{rate} Hz: {}",
            hero.position
        );
        assert!(seconds < late * route.seconds + 0.1 + 2.0 / rate, "{rate} Hz: {seconds} s for {} s", route.seconds);
    }
    route
}

#[test]
fn round_a_wall_by_the_taut_way_in_the_time_that_takes() {
    let (level, tuning) = (yard().mesh(), Tuning::walker());
    let route = arrives(&level, &tuning, p(-4.0, 0.0, 0.0), p(8.0, 0.0, -2.0));
    // Round the wall's end, a radius off its corners.
    let taut = |at: DVec3| (at - p(-4.0, 0.0, 0.0)).length();
    let corner = [p(2.0, 0.0, 6.3), p(2.4, 0.0, 6.3)];
    let best = taut(corner[0]) + 0.4 + (p(8.0, 0.0, -2.0) - corner[1]).length();
    assert!(route.length >= best - 0.2 && route.length < 1.03 * best, "{} m, at best {best}", route.length);
    assert!(route.legs.len() <= 5, "{route:?}");
    // Straight where nothing is in the way.
    assert_eq!(arrives(&level, &tuning, p(-4.0, 0.0, 0.0), p(-9.0, 0.0, 7.0)).legs.len(), 1);
}

#[test]
fn what_was_surveyed_ahead_and_on_demand_is_the_same() {
    let (level, tuning) = (yard().mesh(), Tuning::walker());
    let (ahead, asked) = (routes(&tuning), routes(&tuning));
    ahead.prepare(&level, p(-12.0, 0.0, -12.0), p(12.0, 0.0, 12.0)).unwrap();
    let plan = |routes: &Routes| routes.plan_at_once(&level, p(-4.0, 0.0, 0.0), p(8.0, 0.0, -2.0)).unwrap();
    assert_eq!(plan(&ahead), plan(&asked));
    assert!(ahead.surveyed().places > 3000 && asked.surveyed().places > 0);
}

/// Two roofs 2 m apart, one of them with a cellar 2 m down in front; nothing under them.
fn roofs() -> World {
    World::default().floor([-8.0, -3.0], [0.0, 3.0], 0.0).floor([2.0, -3.0], [9.0, 3.0], 0.0).floor(
        [9.0, -3.0],
        [14.0, 3.0],
        -2.0,
    )
}

fn kinds(route: &Route) -> Vec<LinkKind> {
    let kind = |by: By| if let By::Link(kind, _) = by { Some(kind) } else { None };
    route.legs.iter().filter_map(|leg| kind(leg.by)).collect()
}

#[test]
fn gaps_are_jumped_and_drops_dropped_where_it_can_and_may() {
    let (level, tuning) = (roofs().mesh(), Tuning::walker());
    let route = arrives(&level, &tuning, p(-6.0, 0.0, 0.0), p(12.0, -2.0, 1.0));
    assert_eq!(kinds(&route), [LinkKind::Jump, LinkKind::Drop]);
    // Back up there is no way, and none where it may not jump; as near as can be.
    let back = routes(&tuning).plan_at_once(&level, p(12.0, -2.0, 1.0), p(-6.0, 0.0, 0.0)).unwrap();
    assert!(back.short == Some(Short::NoWay) && (back.end().x - 9.0).abs() < 1.0, "{back:?}");
    let timid = Routes::new(Survey { jumps: false, ..Survey::of(&tuning) }, &tuning).unwrap();
    let short = timid.plan_at_once(&level, p(-6.0, 0.0, 0.0), p(5.0, 0.0, 0.0)).unwrap();
    assert!(short.short == Some(Short::NoWay) && short.end().x > -1.0, "{short:?}");
    let shy = Routes::new(Survey { drop: 1.0, ..Survey::of(&tuning) }, &tuning).unwrap();
    assert_eq!(shy.plan_at_once(&level, p(5.0, 0.0, 0.0), p(12.0, -2.0, 1.0)).unwrap().short, Some(Short::NoWay));
}

#[test]
fn ladders_are_climbed_up_and_down_and_ledges_pulled_up() {
    let climber = with(|v| {
        (v.climb, v.ledge) = (Some(newel::Climb::default()), Some(newel::Ledge::default()));
        v.jump = None;
    });
    // A tower of 5 m with a ladder, surface 1, on its west side.
    let tower = World::default()
        .floor([-9.0, -9.0], [9.0, 9.0], 0.0)
        .block([2.0, -0.1, -2.0], [6.0, 5.0, 2.0], 0)
        .block([1.94, 0.0, -0.3], [2.0, 5.0, 0.3], 1);
    let level = tower.mesh().with_hold(1, Hold::Ladder);
    let up = arrives(&level, &climber, p(-5.0, 0.0, 4.0), p(4.0, 5.0, 0.0));
    assert!(kinds(&up).contains(&LinkKind::Climb), "{up:?}");
    let down = arrives(&level, &climber, p(4.0, 5.0, 0.0), p(-5.0, 0.0, 4.0));
    assert_eq!(kinds(&down).len(), 1, "{down:?}");
    // A terrace as high as its chest.
    let terrace = World::default().floor([-9.0, -9.0], [9.0, 9.0], 0.0).block([2.0, -0.1, -9.0], [9.0, 1.4, 9.0], 0);
    let up = arrives(&terrace.mesh(), &climber, p(-3.0, 0.0, 0.0), p(6.0, 1.4, 1.0));
    assert_eq!(kinds(&up), [LinkKind::Ledge]);
}

#[test]
fn what_is_low_is_gone_through_ducked() {
    let (tuning, wall) = (Tuning::walker(), yard());
    // A lintel over a gap in a wall that closes the yard.
    let level = wall.block([2.0, -0.1, 8.0], [2.4, 2.5, 12.0], 0).block([1.6, 1.3, 6.0], [2.8, 2.5, 8.0], 0).mesh();
    let route = arrives(&level, &tuning, p(-2.0, 0.0, 7.0), p(7.0, 0.0, 7.0));
    assert!(route.legs.iter().any(|leg| leg.by == By::Walking(Stance::Crouch)), "{route:?}");
    assert_eq!(route.legs.last().unwrap().by, By::Walking(Stance::Stand));
}

#[test]
fn each_reason_why_there_is_no_place_is_its_own() {
    let tuning = Tuning::walker();
    let pond =
        Zone::new(1, p(-20.0, -9.0, 12.0), p(20.0, -1.0, 40.0), Effect::Water(Water::flat(p(0.0, -1.0, 0.0), Vec3::Y)));
    let land = World::default()
        .floor([-12.0, -12.0], [12.0, 12.0], 0.0)
        .floor([-20.0, 12.0], [20.0, 40.0], -6.0)
        .quad([[12.0, 0.0, -12.0], [16.0, 8.0, -12.0], [16.0, 8.0, 12.0], [12.0, 0.0, 12.0]], 0)
        .block([-9.0, -0.1, -9.0], [-4.0, 3.0, -4.0], 0)
        .floor([-9.0, 4.0], [-3.0, 10.0], 0.3);
    let level = Scene::new().with(land.mesh()).with_zone(pond);
    let routes = Routes::new(Survey { swims: false, ..Survey::of(&tuning) }, &tuning).unwrap();
    let down = |x: f64, z: f64| routes.pick(&level, p(x, 30.0, z), Vec3::NEG_Y);
    assert!((down(1.5, 2.5).unwrap() - p(1.5, 0.0, 2.5)).length() < 1e-3);
    assert!(matches!(down(15.0, 0.0), Err(NoPlace::TooSteep { .. })), "{:?}", down(15.0, 0.0));
    assert!(matches!(down(0.0, 30.0), Err(NoPlace::Water { .. })), "{:?}", down(0.0, 30.0));
    assert_eq!(down(60.0, 60.0), Err(NoPlace::Nothing));
    assert!(matches!(routes.pick(&level, p(f64::NAN, 0.0, 0.0), Vec3::X), Err(NoPlace::NotFinite { .. })));
    assert!(matches!(routes.pick(&level, p(0.0, 9.0, 0.0), Vec3::ZERO), Err(NoPlace::NotFinite { .. })));
    // A wall means the ground at its foot, on the side that is seen.
    let foot = routes.pick(&level, p(0.0, 1.5, -6.0), Vec3::NEG_X).unwrap();
    assert!((foot - p(-3.7, 0.0, -6.0)).length() < 0.1, "{foot}");
    // Inside the block; over nothing; and a way that begins where nobody can stand.
    assert!(matches!(
        routes.plan_at_once(&level, DVec3::ZERO, p(-6.5, 1.5, -6.5)),
        Err(NoPlace::NoRoom { .. }) | Ok(_)
    ));
    assert!(matches!(routes.plan_at_once(&level, DVec3::ZERO, p(60.0, 0.0, 60.0)), Err(NoPlace::NoGround { .. })));
    assert!(matches!(routes.plan_at_once(&level, p(0.0, -5.5, 30.0), DVec3::ZERO), Err(NoPlace::Start(_))));
    let wrong = Routes::new(Survey { cell: 0.0, ..Survey::of(&tuning) }, &tuning);
    assert!(matches!(wrong, Err(SurveyError::OutOfRange { field: "survey.cell", .. })));
    let askew = Routes::new(Survey { plane: Vec3::new(1.0, 1.0, 0.0), ..Survey::of(&tuning) }, &tuning);
    assert!(matches!(askew, Err(SurveyError::Spawn(_))));
    assert!(matches!(
        routes.prepare(&level, DVec3::splat(-1e9), DVec3::splat(1e9)),
        Err(SurveyError::OutOfRange { .. })
    ));
    assert!(routes.prepare(&level, DVec3::NAN, DVec3::ONE).is_err());
}

#[test]
fn each_way_a_trip_ends_has_its_own_reason() {
    let (tuning, level) = (Tuning::walker(), yard().block([-8.0, 0.0, -8.0], [-6.0, 3.0, -6.0], 0).mesh());
    let routes = routes(&tuning);
    let end = |to: DVec3, travel: Travel| {
        let mut trip = Trip::new(travel);
        trip.go(to);
        go(&level, &tuning, &routes, &mut trip, DVec3::ZERO, 60.0)
    };
    // Nobody can stand inside a wall: beside it, and how far off that is.
    let (beside, _, hero) = end(p(2.2, 0.0, 0.0), Travel::default());
    let off = (hero.position - p(2.2, 0.0, 0.0)).length();
    assert!(matches!(beside, TripEnd::Arrived { off: told } if (told - off).abs() < 1e-6 && off > 0.3), "{beside:?}");
    // The top of the block is an island.
    let (island, _, hero) = end(p(-7.0, 3.0, -7.0), Travel::default());
    assert!(matches!(island, TripEnd::Short { why: Short::NoWay, left } if left > 3.0 && left < 4.5), "{island:?}");
    assert!((hero.position - p(-7.0, 0.0, -7.0)).length() < 2.5, "as near as it can: {}", hero.position);
    let (stays, seconds, _) = end(p(-7.0, 3.0, -7.0), Travel { as_near_as_can: false, ..Travel::default() });
    assert!(matches!(stays, TripEnd::Short { .. }) && seconds < 0.11, "{stays:?} {seconds}");
    assert!(matches!(end(p(90.0, 0.0, 0.0), Travel::default()).0, TripEnd::NoPlace(NoPlace::NoGround { .. })));
    assert!(matches!(end(p(f64::NAN, 0.0, 0.0), Travel::default()).0, TripEnd::NoPlace(NoPlace::NotFinite { .. })));

    let mut hero = Runner::spawn(&level, &tuning, DVec3::ZERO).unwrap();
    let mut trip = Trip::new(Travel::default());
    let mut drive = |trip: &mut Trip, own: Intent, ticks: usize| {
        for _ in 0..ticks {
            hero.advance(1.0 / 60.0, &level, &tuning, |me| trip.drive(own, me, &level, &routes), |_| {}).unwrap();
        }
        hero.character.velocity.length()
    };
    trip.go(p(8.0, 0.0, 0.0));
    assert!(drive(&mut trip, Intent::default(), 60) > 4.0);
    trip.cancel();
    assert_eq!((drive(&mut trip, Intent::default(), 60), trip.take_end()), (0.0, Some(TripEnd::Cancelled)));
    trip.go(p(8.0, 0.0, 0.0));
    drive(&mut trip, Intent::toward(Vec3::X), 1);
    assert_eq!(trip.take_end(), Some(TripEnd::Overruled));
    // The player leads for a while; then it goes on.
    trip.travel.going.own_heading = OwnHeading::Leads;
    trip.go(p(8.0, 0.0, 0.0));
    drive(&mut trip, Intent::new(Heading::World(Vec3::NEG_X)), 60);
    assert!(trip.take_end().is_none());
    drive(&mut trip, Intent::default(), 900);
    assert!(matches!(trip.take_end(), Some(TripEnd::Arrived { .. })));
}

#[test]
fn a_place_that_moves_every_tick_is_followed_and_come_to() {
    let (tuning, level) = (Tuning::walker(), yard().mesh());
    let routes = routes(&tuning);
    for rate in [15.0, 60.0, 240.0] {
        let mut hero = Runner::spawn(&level, &tuning, p(-4.0, 0.0, 0.0)).unwrap().with_rate(rate).unwrap();
        let mut trip = Trip::new(Travel::default());
        let mut ended = Vec::new();
        for tick in 0..(16.0 * rate) as usize {
            // Once round behind the wall, then it stands.
            let time = (tick as f64 / rate).min(8.0);
            let place = p(7.0 + 2.0 * (0.7 * time).cos(), 0.0, 2.0 * (0.7 * time).sin());
            if trip.place().is_some() || tick as f64 / rate <= 8.0 {
                trip.go(place);
            }
            hero.advance(1.0 / rate, &level, &tuning, |me| trip.drive(Intent::default(), me, &level, &routes), |_| {})
                .unwrap();
            ended.extend(trip.take_end());
        }
        let place = p(7.0 + 2.0 * 5.6f64.cos(), 0.0, 2.0 * 5.6f64.sin());
        assert!((hero.character.position - place).length() < 0.11, "{rate} Hz: {}", hero.character.position);
        assert!(ended.iter().all(|end| matches!(end, TripEnd::Arrived { .. })) && !ended.is_empty(), "{ended:?}");
    }
}

#[test]
fn where_the_world_has_changed_it_goes_another_way_or_says_what_is_in_it() {
    let tuning = Tuning::walker();
    // Two gaps in a wall across the yard: the near one is then shut.
    let open = World::default()
        .floor([-12.0, -12.0], [12.0, 12.0], 0.0)
        .block([2.0, -0.1, -12.0], [2.4, 2.5, -1.0], 0)
        .block([2.0, -0.1, 1.0], [2.4, 2.5, 8.0], 0)
        .block([2.0, -0.1, 10.0], [2.4, 2.5, 12.0], 0);
    let level = open.mesh();
    let shut = open.block([2.0, -0.1, -1.0], [2.4, 2.5, 1.0], 0);
    let one_shut = shut.mesh();
    let both_shut = shut.block([2.0, -0.1, 8.0], [2.4, 2.5, 10.0], 0).mesh();
    let ends = |then: &Mesh, tells: bool, holds: bool| {
        let routes = routes(&tuning);
        // Not straight ahead of a gap: what is planned first is surveyed ground.
        let mut hero = Runner::spawn(&level, &tuning, p(-6.0, 0.0, 5.0)).unwrap();
        let mut trip = Trip::new(Travel::default());
        trip.go(p(7.0, 0.0, 0.0));
        for tick in 0..1800 {
            let level = if tick < 45 { &level } else { then };
            if tick == 45 && tells {
                routes.changed(p(2.0, 0.0, -1.0), p(2.4, 2.5, 10.0));
            }
            if holds {
                trip.go(p(7.0, 0.0, 0.0));
            }
            hero.advance(1.0 / 60.0, level, &tuning, |me| trip.drive(Intent::default(), me, level, &routes), |_| {})
                .unwrap();
            if let Some(end) = trip.take_end() {
                return (end, hero.character.clock);
            }
        }
        panic!("no end at {}", hero.character.position)
    };
    let (told, quick) = ends(&one_shut, true, false);
    let (untold, slow) = ends(&one_shut, false, false);
    assert!(matches!((&told, &untold), (TripEnd::Arrived { .. }, TripEnd::Arrived { .. })), "{told:?} {untold:?}");
    assert!(quick + 0.5 < slow, "told it turns at once, {quick} s; else it walks into it first, {slow} s");
    assert!(matches!(ends(&both_shut, true, false).0, TripEnd::Short { why: Short::NoWay, .. }));
    // Also where a button is held, and the place given anew every tick.
    for holds in [false, true] {
        let (end, at) = ends(&both_shut, false, holds);
        println!("HOLDS {holds} {end:?} {at}");
        assert!(matches!(end, TripEnd::Blocked { .. } | TripEnd::Short { .. }), "{end:?}");
    }
}

#[test]
fn stops_are_made_in_turn_with_their_waits_to_and_fro_and_round() {
    let (tuning, level) = (Tuning::walker(), yard().mesh());
    let routes = routes(&tuning);
    let stops = [p(-8.0, 0.0, 0.0), p(-8.0, 0.0, 4.0), p(-4.0, 0.0, 4.0)].map(|place| Stop { place, waits: 0.5 });
    let visits = |after: AfterLast| {
        let mut hero = Runner::spawn(&level, &tuning, p(-6.0, 0.0, 0.0)).unwrap();
        let mut trip = Trip::new(Travel::default());
        trip.follow(&stops, after);
        let (mut visits, mut stood) = (Vec::new(), 0);
        for _ in 0..1500 {
            let going = trip.stop();
            hero.advance(1.0 / 60.0, &level, &tuning, |me| trip.drive(Intent::default(), me, &level, &routes), |_| {})
                .unwrap();
            stood += usize::from(hero.character.velocity == DVec3::ZERO);
            if trip.stop() != going {
                assert!((hero.character.position - stops[going].place).length() < 0.1);
                visits.push(going);
            }
            if trip.take_end().is_some() {
                visits.push(9);
            }
        }
        assert!(stood >= 30 * visits.iter().filter(|v| **v < 9).count(), "it waits: {stood} ticks");
        visits
    };
    assert_eq!(visits(AfterLast::Ends), [0, 1, 2, 9]);
    assert_eq!(visits(AfterLast::Again)[..7], [0, 1, 2, 0, 1, 2, 0]);
    assert_eq!(visits(AfterLast::Back)[..7], [0, 1, 2, 1, 0, 1, 2]);
}

#[test]
fn any_way_up_and_seen_from_above() {
    let tuning = Tuning::walker();
    // The yard with +Z up.
    let mut level = yard();
    level.corners.iter_mut().for_each(|c| *c = [c[0], -c[2], c[1]]);
    let level = level.mesh();
    let survey = Survey { up: Vec3::Z, ..Survey::of(&tuning) };
    let routes = Routes::new(survey, &tuning).unwrap();
    let route = routes.plan_at_once(&level, p(-4.0, 0.0, 0.0), p(8.0, 2.0, 0.0)).unwrap();
    assert!(route.short.is_none() && route.length > 17.0, "{route:?}");
    let spawn = Spawn::at(p(-4.0, 0.0, 0.0)).up(Vec3::Z);
    let mut hero = Runner::spawn(&level, &tuning, spawn).unwrap();
    let mut trip = Trip::new(Travel::default());
    trip.go(p(8.0, 2.0, 0.0));
    let mut drive = |me: &Before<'_>| trip.drive(Intent::default(), me, &level, &routes);
    (0..600).for_each(|_| hero.advance(1.0 / 60.0, &level, &tuning, &mut drive, |_| {}).unwrap());
    assert!((hero.character.position - p(8.0, 2.0, 0.0)).length() < 1e-3, "{}", hero.character.position);

    // Walls alone, seen from above: the plane is the ground.
    let walls = World::default().block([2.0, -1.0, -12.0], [2.4, 2.5, 6.0], 0).mesh();
    let survey = Survey { plane: Vec3::Y, through: p(0.0, 0.5, 0.0), ..Survey::of(&tuning) };
    let routes = Routes::new(survey, &tuning).unwrap();
    let (from, to) = (p(-4.0, 0.5, 0.0), p(8.0, 0.5, -2.0));
    let mut hero = Runner::spawn(&walls, &tuning, Spawn::at(from).in_plane(Vec3::Y)).unwrap();
    let mut trip = Trip::new(Travel::default());
    trip.go(to);
    for _ in 0..900 {
        hero.advance(1.0 / 60.0, &walls, &tuning, |me| trip.drive(Intent::default(), me, &walls, &routes), |_| {})
            .unwrap();
    }
    assert!(matches!(trip.take_end(), Some(TripEnd::Arrived { .. })), "at {}", hero.character.position);
    assert!((hero.character.position - to).length() < 1e-3);
}

/// A yard with walls at random, and a pen in its corner that no way leads into.
fn maze(seed: u64) -> World {
    let pen = [([14.0, 14.0], [20.0, 14.3]), ([14.0, 14.0], [14.3, 20.0])];
    let shut = |world: World, (a, b): ([f32; 2], [f32; 2])| world.block([a[0], -0.1, a[1]], [b[0], 4.0, b[1]], 0);
    pen.into_iter().fold(open_maze(seed), shut)
}

/// The same without the pen.
fn open_maze(seed: u64) -> World {
    let mut dice = seed;
    let mut roll = |low: f64, high: f64| {
        dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (low + (high - low) * (dice >> 11) as f64 / (1u64 << 53) as f64) as f32
    };
    let mut world = World::default().floor([-20.0, -20.0], [20.0, 20.0], 0.0);
    for _ in 0..24 {
        let (x, z, long) = (roll(-18.0, 12.0), roll(-18.0, 12.0), roll(2.0, 8.0));
        let (w, d) = if roll(0.0, 1.0) < 0.5 { (long, 0.3) } else { (0.3, long) };
        world = world.block([x, -0.1, z], [x + w, 2.5, z + d], 0);
    }
    world
}

#[test]
fn a_call_works_no_more_than_its_budget_and_the_route_is_the_same_in_any_calls() {
    let tuning = Tuning::walker();
    for seed in 0..6 {
        let level = maze(seed).mesh();
        let whole = routes(&tuning).plan_at_once(&level, p(-19.5, 0.0, -19.5), p(13.0, 0.0, 13.0)).unwrap();
        let calls = |places: usize| {
            let (routes, mut planning) = (routes(&tuning), Planning::new(p(-19.5, 0.0, -19.5), p(13.0, 0.0, 13.0)));
            let mut looked = Vec::new();
            let route = loop {
                let route = routes.plan(&level, &mut planning, places);
                looked.push(planning.looked());
                if let Some(route) = route {
                    break route.unwrap();
                }
            };
            let most = looked.windows(2).map(|w| w[1] - w[0]).max().unwrap_or(0);
            // One unit of work is begun with the budget not yet spent: trying what leads on from one rim is the longest.
            assert!(most < places as u64 + 3000, "seed {seed}: {most} places in a call of {places}");
            (route, looked)
        };
        let [one, again, other] = [300, 300, 5000].map(calls);
        assert_eq!(one, again, "seed {seed}");
        assert!(one.0 == whole && other.0 == whole, "seed {seed}: {whole:?}\n{:?}\n{:?}", one.0, other.0);
        assert!(one.1.len() > other.1.len() && other.1.len() > 1, "seed {seed}");
    }
}

#[test]
fn where_all_is_prepared_what_cannot_be_reached_is_known_at_once() {
    let tuning = Tuning::walker();
    for seed in 0..4 {
        let (level, routes) = (maze(seed).mesh(), routes(&tuning));
        let to = p(18.0, 0.0, 18.0);
        let plan = |level: &Mesh| {
            let mut planning = Planning::new(p(-19.5, 0.0, -19.5), to);
            let route = routes.plan(level, &mut planning, usize::MAX).unwrap().unwrap();
            (route, planning.looked())
        };
        routes.prepare(&level, p(-20.0, 0.0, -20.0), p(20.0, 0.0, 20.0)).unwrap();
        let (short, looked) = plan(&level);
        // At the pen's wall, where it is nearest.
        let off = (short.end() - to).length();
        assert!(short.short == Some(Short::NoWay) && off < 4.9, "seed {seed}: {off} m off, {short:?}");
        assert!(looked < 20_000, "seed {seed}: {looked} of {} places", routes.surveyed().places);
        // The pen is gone, and the routes are told: in.
        routes.changed(p(14.0, 0.0, 14.0), p(20.0, 4.0, 20.0));
        assert_eq!(plan(&open_maze(seed).mesh()).0.short, None, "seed {seed}");
    }
}

#[test]
fn what_is_too_far_to_plan_is_gone_to_part_by_part() {
    let (tuning, level) = (Tuning::walker(), maze(3).mesh());
    let routes = Routes::new(Survey { most_places: 2200, ..Survey::of(&tuning) }, &tuning).unwrap();
    routes.prepare(&level, p(-20.0, 0.0, -20.0), p(20.0, 0.0, 20.0)).unwrap();
    let (from, to) = (p(-19.5, 0.0, -19.5), p(13.0, 0.0, 13.0));
    let part = routes.plan_at_once(&level, from, to).unwrap();
    assert!(part.short == Some(Short::TooFar) && (part.end() - to).length() < (from - to).length() - 1.0, "{part:?}");
    let mut trip = Trip::new(Travel::default());
    trip.go(to);
    let (end, ..) = go(&level, &tuning, &routes, &mut trip, from, 60.0);
    assert!(matches!(end, TripEnd::Arrived { .. }), "{end}");
}

#[test]
fn water_too_deep_to_stand_in_is_swum_in_across_and_out_of() {
    let tuning = Tuning::walker();
    let bank = |x: f32, y: f32, to: f32| [[x, y, -9.0], [to, -4.0, -9.0], [to, -4.0, 9.0], [x, y, 9.0f32]];
    let land = World::default()
        .floor([-12.0, -9.0], [-6.0, 9.0], 0.0)
        .quad(bank(-6.0, 0.0, 0.0), 0)
        .floor([0.0, -9.0], [4.0, 9.0], -4.0)
        .quad(bank(10.0, 0.0, 4.0), 0)
        .floor([10.0, -9.0], [16.0, 9.0], 0.0)
        .block([1.0, -4.0, -9.0], [2.0, 1.0, 4.0], 0);
    let sea =
        Zone::new(1, p(-12.0, -9.0, -9.0), p(16.0, -0.3, 9.0), Effect::Water(Water::flat(p(0.0, -0.3, 0.0), Vec3::Y)));
    let level = Scene::new().with(land.mesh()).with_zone(sea);
    let route = arrives_in(&level, &tuning, p(-10.0, 0.0, 0.0), p(14.0, 0.0, -2.0), 1.25);
    assert!(route.legs.iter().any(|leg| leg.by == By::Swimming), "{route:?}");
    // Round the pillar that stands out of the water.
    assert!(route.places().iter().any(|at| at.z > 4.2), "{route:?}");
    // To a place on the water, and back from it.
    arrives_in(&level, &tuning, p(-10.0, 0.0, 0.0), p(-0.5, -1.8, 0.0), 1.5);
    let dry = Routes::new(Survey { swims: false, ..Survey::of(&tuning) }, &tuning).unwrap();
    assert_eq!(dry.plan_at_once(&level, p(-10.0, 0.0, 0.0), p(14.0, 0.0, -2.0)).unwrap().short, Some(Short::NoWay));
}

#[test]
fn ledges_too_high_to_step_onto_are_jumped_at_and_caught() {
    for takes in [newel::Takes::Touch, newel::Takes::Button] {
        let climber = with(|v| {
            v.ledge = Some(newel::Ledge { highest: 1.0, takes, at_once: false, ..newel::Ledge::default() });
        });
        let high = 2.6;
        let terrace =
            World::default().floor([-9.0, -9.0], [9.0, 9.0], 0.0).block([2.0, -0.1, -9.0], [9.0, high, 9.0], 0);
        let level = terrace.mesh();
        let up = arrives(&level, &climber, p(-3.0, 0.0, 0.0), p(6.0, f64::from(high), 1.0));
        assert_eq!(kinds(&up), [LinkKind::Ledge], "{takes:?}");
    }
}

#[test]
fn a_place_that_moves_faster_than_it_is_planned_to_is_gone_after() {
    let (tuning, level) = (Tuning::walker(), maze(1).mesh());
    let routes = routes(&tuning);
    routes.prepare(&level, p(-20.0, 0.0, -20.0), p(20.0, 0.0, 20.0)).unwrap();
    // So little in a tick that a plan takes seconds: every one is begun for a place that is elsewhere by its end.
    let mut trip = Trip::new(Travel { places: 12, ..Travel::default() });
    let mut hero = Runner::spawn(&level, &tuning, p(-19.5, 0.0, -19.5)).unwrap();
    let mut routed = false;
    for tick in 0..3600 {
        let time = f64::from(tick) / 60.0;
        trip.go(p(12.0, 0.0, 12.0 - 5.0 * (0.8 * time).sin().abs()));
        hero.advance(1.0 / 60.0, &level, &tuning, |me| trip.drive(Intent::default(), me, &level, &routes), |_| {})
            .unwrap();
        routed |= trip.route().is_some();
    }
    assert!(routed, "no plan was ever finished");
    assert!((hero.character.position - p(12.0, 0.0, 9.5)).length() < 8.0, "at {}", hero.character.position);
}

#[test]
fn whoever_hovers_plans_from_where_it_is() {
    let tuning = with(|v| v.hover = Some(newel::Hover::default()));
    let level = yard().mesh();
    let routes = routes(&tuning);
    let mut hero = Runner::spawn(&level, &tuning, p(-4.0, 0.1, 0.0)).unwrap();
    let own = Intent::default().hold(newel::Button::Hover);
    hero.advance(1.0 / 60.0, &level, &tuning, |_| own, |_| {}).unwrap();
    assert_eq!(hero.character.mode, newel::Mode::Hover);
    let mut trip = Trip::new(Travel::default());
    trip.go(p(-9.0, 0.0, 7.0));
    for _ in 0..60 {
        hero.advance(1.0 / 60.0, &level, &tuning, |me| trip.drive(Intent::default(), me, &level, &routes), |_| {})
            .unwrap();
    }
    assert!(trip.route().is_some(), "{:?}", trip.take_end());
}
