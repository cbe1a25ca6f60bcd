//! Tile maps in the widespread .tmx format, as flat worlds.

use std::path::Path;

use newel::flat::{Scale, Tile, Tiles};
use tiled::{LayerType, Loader, PropertyValue};

use crate::error::FileError;

/// A tile map.
#[derive(Debug, Clone)]
pub struct TileMap {
    /// Its tiles, y down, the map's corner at pixel 0, 0.
    pub tiles: Tiles,
    /// Names of its surfaces; a tile's surface number is an index into them.
    pub surfaces: Vec<String>,
}

/// Tiles across a map, and from top to bottom, at most.
const MOST: u32 = 1 << 14;

impl TileMap {
    /// Reads a .tmx file, at so many pixels to a metre. All visible tile layers count; where they overlap the topmost tile that is not empty.
    ///
    /// The class of a tile defines it: `solid` (also of none), `one_way`, or `empty`; numbers `left` and `right` from 0 to 1 make a slope
    /// that is as high at its sides. Its surface is its property `surface`, else its class. Flipped tiles are flipped.
    ///
    /// # Errors
    /// [`FileError`] names the file and what is wrong with it: not such a file, not right-angled, without an end, or a tile that makes no sense.
    pub fn load(path: impl AsRef<Path>, pixels: f64) -> Result<TileMap, FileError> {
        let path = path.as_ref();
        let wrong = |what: String| FileError::whole(path, what);
        let map = Loader::new().load_tmx_map(path).map_err(|e| wrong(e.to_string()))?;
        if map.orientation != tiled::Orientation::Orthogonal || map.infinite() || map.tile_width != map.tile_height {
            return Err(wrong("only right-angled maps with an end and square tiles are flat worlds".to_owned()));
        }
        let (wide, tall) = (map.width, map.height);
        if wide.max(tall) > MOST {
            return Err(wrong(format!("{wide} by {tall} tiles: at most {MOST} each way are allowed")));
        }
        let scale = Scale::new(pixels).map_err(|e| wrong(e.to_string()))?.y_down();
        let mut surfaces = vec!["plain".to_owned()];
        let mut found = vec![(Tile::Empty, 0u16); (wide * tall) as usize];
        for layer in map.layers().filter(|layer| layer.visible) {
            let LayerType::Tiles(layer) = layer.layer_type() else { continue };
            for (x, y) in (0..tall).flat_map(|y| (0..wide).map(move |x| (x, y))) {
                let Some(tile) = layer.get_tile(x as i32, y as i32) else { continue };
                let (flips, data) = ((tile.flip_h, tile.flip_v), tile.get_tile());
                if flips.1 {
                    return Err(wrong(format!(
                        "the tile at {x}, {y} is flipped upside down: only left and right may be"
                    )));
                }
                let read = data.as_deref().map_or((Tile::Solid, None), |data| kind_of(data, flips.0));
                if read.0 != Tile::Empty {
                    let surface = read.1.map_or(0, |name| number_of(&mut surfaces, name));
                    found[(y * wide + x) as usize] = (read.0, surface);
                }
            }
        }
        let at = |x: usize, y: usize| found[y * wide as usize + x];
        let tiles =
            Tiles::new(scale, wide as usize, tall as usize, |x, y| at(x, y).0).map_err(|e| wrong(e.to_string()))?;
        let tiles = tiles.with_tile_size(f64::from(map.tile_width)).with_surfaces(|x, y| at(x, y).1);
        Ok(TileMap { tiles, surfaces })
    }
}

fn number_of(surfaces: &mut Vec<String>, name: String) -> u16 {
    let known = surfaces.iter().position(|known| *known == name);
    known.unwrap_or_else(|| {
        surfaces.push(name);
        surfaces.len() - 1
    }) as u16
}

/// Kind and surface of a tile of a tile set.
fn kind_of(tile: &tiled::TileData, flipped: bool) -> (Tile, Option<String>) {
    let class = tile.user_type.clone();
    let number = |name: &str| match tile.properties.get(name) {
        Some(PropertyValue::FloatValue(number)) => Some(*number),
        Some(PropertyValue::IntValue(number)) => Some(*number as f32),
        _ => None,
    };
    let surface = match tile.properties.get("surface") {
        Some(PropertyValue::StringValue(name)) => Some(name.clone()),
        _ => Some(class.clone()).filter(|class| !class.is_empty()),
    };
    let kind = match (number("left"), number("right"), &class[..]) {
        (None, None, "empty") => Tile::Empty,
        (None, None, "one_way") => Tile::OneWay,
        (None, None, _) => Tile::Solid,
        (left, right, _) => {
            let (left, right) = (left.unwrap_or(0.0), right.unwrap_or(0.0));
            let (left, right) = if flipped { (right, left) } else { (left, right) };
            Tile::Slope { left, right }
        }
    };
    (kind, surface)
}
