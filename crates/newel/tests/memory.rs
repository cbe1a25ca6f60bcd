//! A warm tick allocates nothing, and a character is small. Alone in its file: it counts what the whole process does.

mod common;

use common::{Walk, World};
use newel::glam::Vec3;
use newel::{Button, Character, Intent, Tuning};
use stats_alloc::{INSTRUMENTED_SYSTEM, Region, StatsAlloc};

#[global_allocator]
static ALLOCATOR: &StatsAlloc<std::alloc::System> = &INSTRUMENTED_SYSTEM;

#[test]
fn a_warm_tick_allocates_nothing_and_a_character_is_at_most_256_bytes() {
    assert!(size_of::<Character>() <= 256, "{}", size_of::<Character>());
    let world =
        World::new().floor(30.0, 0.0).stairs(2.0, 0.18, 0.28, 8, 3.0).block([-3.0, 0.0, -3.0], [-2.0, 3.0, 3.0]);
    let mut walk = Walk::new(world, Tuning::walker(), [0.0; 3]);
    walk.events.reserve(100_000);
    let round = |walk: &mut Walk| {
        for tick in 0..600 {
            // Up and down the stairs, against the block, jumping now and then.
            let way = if tick / 150 % 2 == 0 { Vec3::X } else { Vec3::new(-1.0, 0.0, 0.2) };
            let intent = Intent::toward(way);
            walk.tick(1.0 / 60.0, if tick % 97 == 0 { intent.hold(Button::Jump) } else { intent });
        }
    };
    round(&mut walk);
    let region = Region::new(ALLOCATOR);
    round(&mut walk);
    let used = region.change();
    assert_eq!((used.allocations, used.reallocations), (0, 0), "{used:?}");
}
