//! Tile maps: read, walked on as tiles, and the same as in a course.

use newel::flat::{self, Tile};
use newel_lab::{Course, TileMap, run};

fn demo(name: &str) -> String {
    format!("{}/../../demo/{name}", env!("CARGO_MANIFEST_DIR"))
}

#[test]
fn the_tower_is_read_and_walked_on_as_tiles_and_as_a_course() {
    let map = TileMap::load(demo("maps/tower.tmx"), 32.0).unwrap();
    let (tiles, px) = (&map.tiles, map.tiles.scale());
    assert_eq!((tiles.size(), tiles.tile_size()), ((40, 16), 16.0));
    assert_eq!(tiles.tile(0, 13), Tile::Solid);
    assert_eq!(map.surfaces[usize::from(tiles.surface(24, 11))], "plank");
    assert_eq!(tiles.tile(24, 11), Tile::OneWay);
    assert_eq!(tiles.tile(13, 10), Tile::Slope { left: 0.0, right: 1.0 });
    assert_eq!(tiles.tile(17, 10), Tile::Slope { left: 1.0, right: 0.0 }, "flipped");

    // Along the ground and over the rubble, as the course's first seconds: as tiles, in pixels, and as the course's triangles.
    let course = Course::load(demo("courses/tile-tower.toml")).unwrap();
    let trace = run(&course, |_| {}).unwrap();
    let mut hero = flat::Runner::spawn(tiles, &course.tuning, px.at(64.0, 208.0)).unwrap();
    for row in &trace.rows[1..150] {
        let goes = hero.inner.character.clock + 1e-9 >= 0.4;
        let goal = newel::Heading::To { place: px.at(12.4 * 32.0, 208.0).world(), speed: 1.0 };
        let intent = if goes { newel::Intent::new(goal) } else { newel::Intent::default() };
        hero.advance(1.0 / 60.0, tiles, &course.tuning, |_| intent, |_| {}).unwrap();
        let off = (hero.inner.character.position - row.position).length();
        assert!(off < 1e-3, "at {} s: {} and {}", row.time, hero.inner.character.position, row.position);
    }
    assert!(hero.position().x > 250.0 && hero.position().y < 208.0, "on the rubble: {}", hero.position());
}

#[test]
fn what_is_no_flat_world_says_so() {
    let directory = tempfile::tempdir().unwrap();
    let load = |text: &str| {
        let path = directory.path().join("map.tmx");
        std::fs::write(&path, text).unwrap();
        TileMap::load(&path, 16.0).map(|_| ()).map_err(|e| e.to_string())
    };
    let map = |head: &str, data: &str| {
        format!(
            r#"<map version="1.10" {head} width="2" height="1" tilewidth="16" tileheight="16">
            <tileset firstgid="1" name="t" tilewidth="16" tileheight="16" tilecount="1" columns="0"><tile id="0" type="slope">
            <properties><property name="right" type="float" value="1.5"/></properties></tile></tileset>
            <layer id="1" name="a" width="2" height="1"><data encoding="csv">{data}</data></layer></map>"#
        )
    };
    assert!(load("no map at all").is_err());
    let hexagons = load(&map(r#"orientation="isometric" infinite="0""#, "0,0")).unwrap_err();
    assert!(hexagons.contains("only right-angled maps"), "{hexagons}");
    let steep = load(&map(r#"orientation="orthogonal" infinite="0""#, "0,1")).unwrap_err();
    assert!(steep.contains("the tile at 1, 0 slopes from 0 to 1.5"), "{steep}");
    let missing = TileMap::load(directory.path().join("none.tmx"), 16.0).unwrap_err().to_string();
    assert!(missing.contains("none.tmx"), "{missing}");
}
