//! The terrain of a course: primitives and mesh files, turned into triangles.

use newel::flat::Tile;
use newel::glam::DVec3;

use crate::error::FileError;
use crate::mesh_file;
use crate::reader::Table;
use crate::tile_map::TileMap;

/// Triangles being put together.
#[derive(Default)]
pub(super) struct Soup {
    pub corners: Vec<DVec3>,
    pub indices: Vec<u32>,
    pub surfaces: Vec<u16>,
    pub names: Vec<String>,
    pub colours: Vec<[f32; 3]>,
    /// Surfaces that are passed from below.
    pub one_way: Vec<u16>,
    /// True for a piece that moves: pictures tell it apart.
    moving: bool,
}

/// The colour of what has none of its own.
const PLAIN: [f32; 3] = [0.74, 0.71, 0.66];
/// The same for what moves.
pub(crate) const MOVING: [f32; 3] = [0.93, 0.73, 0.32];

impl Soup {
    /// The number of a surface by its name; a new name gets a new number.
    pub fn surface(&mut self, name: &str, colour: Option<[f32; 3]>) -> u16 {
        let known = self.names.iter().position(|n| n == name);
        known.unwrap_or_else(|| {
            self.names.push(name.to_owned());
            self.colours.push(colour.unwrap_or(if self.moving { MOVING } else { PLAIN }));
            self.names.len() - 1
        }) as u16
    }

    /// An empty one for a piece that moves, which knows the same surfaces.
    pub fn for_moving(&self) -> Soup {
        Soup { names: self.names.clone(), colours: self.colours.clone(), moving: true, ..Soup::default() }
    }

    /// Takes over the surfaces of another that began with the ones it knows.
    pub fn take_names(&mut self, other: Soup) {
        (self.names, self.colours) = (other.names, other.colours);
    }

    fn triangle(&mut self, corners: [DVec3; 3], surface: u16) {
        let first = self.corners.len() as u32;
        self.corners.extend(corners);
        self.indices.extend([first, first + 1, first + 2]);
        self.surfaces.push(surface);
    }

    fn quad(&mut self, [a, b, c, d]: [DVec3; 4], surface: u16) {
        self.triangle([a, b, c], surface);
        self.triangle([a, c, d], surface);
    }

    /// A solid whose top and bottom are polygons of as many corners, the same way round seen from above.
    fn prism(&mut self, bottom: &[DVec3], top: &[DVec3], surface: u16) {
        let count = bottom.len();
        for i in 0..count {
            let j = (i + 1) % count;
            self.quad([bottom[i], top[i], top[j], bottom[j]], surface);
        }
        for i in 1..count - 1 {
            self.triangle([top[0], top[i + 1], top[i]], surface);
            self.triangle([bottom[0], bottom[i], bottom[i + 1]], surface);
        }
    }

    /// An upright box between two corners.
    fn cuboid(&mut self, from: DVec3, to: DVec3, surface: u16) {
        let ring =
            |y: f64| [(from.x, from.z), (from.x, to.z), (to.x, to.z), (to.x, from.z)].map(|(x, z)| DVec3::new(x, y, z));
        self.prism(&reversed(ring(from.y)), &reversed(ring(to.y)), surface);
    }
}

fn reversed(mut ring: [DVec3; 4]) -> [DVec3; 4] {
    ring.reverse();
    ring
}

/// The kinds of terrain, by the word in `kind`.
const KINDS: [&str; 8] = ["mesh", "tiles", "floor", "box", "ramp", "stairs", "cylinder", "ball"];
/// Sizes from a millimetre to 10 km.
const SIZE: std::ops::RangeInclusive<f64> = 1e-3..=1e4;
/// The most stairs in one flight, and sides of a cylinder.
const MANY: f64 = 10_000.0;

pub(super) fn read_solid(table: &Table<'_>, soup: &mut Soup) -> Result<(), FileError> {
    let kind = table.required_word("kind", &KINDS)?;
    let first = soup.corners.len();
    if kind == "mesh" {
        read_mesh(table, soup)?;
    } else if kind == "tiles" {
        read_tiles(table, soup)?;
    } else {
        let surface = table.text("surface")?.unwrap_or("plain");
        let surface = soup.surface(surface, None);
        match kind {
            "floor" => read_floor(table, soup, surface)?,
            "box" => read_box(table, soup, surface)?,
            "ramp" => read_ramp(table, soup, surface)?,
            "stairs" => read_stairs(table, soup, surface)?,
            "ball" => read_ball(table, soup, surface)?,
            _ => read_cylinder(table, soup, surface)?,
        }
    }
    let turn = table.number("turn", -360.0..=360.0)?.unwrap_or(0.0);
    let pivot = pivot_of(table)?;
    table.finish()?;
    turn_about(pivot, &mut soup.corners[first..], turn);
    Ok(())
}

/// The point that a piece turns about.
pub(super) fn pivot_of(table: &Table<'_>) -> Result<DVec3, FileError> {
    let ramp = table.word("kind", &KINDS)? == Some("ramp");
    let pivot = table.numbers::<3>(if ramp { "from" } else { "at" })?;
    Ok(DVec3::from_array(pivot.unwrap_or_default()))
}

/// A level rectangle: `at` its middle, `size` along x and z.
fn read_floor(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let at = DVec3::from_array(table.numbers::<3>("at")?.unwrap_or_default());
    let [x, z] = sizes(table, "size")?;
    let p = |sx: f64, sz: f64| at + DVec3::new(sx * x / 2.0, 0.0, sz * z / 2.0);
    soup.quad([p(-1.0, -1.0), p(-1.0, 1.0), p(1.0, 1.0), p(1.0, -1.0)], surface);
    Ok(())
}

/// An upright box: `at` the middle of its bottom, `size` along x, y and z.
fn read_box(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let at = DVec3::from_array(table.required_numbers::<3>("at")?);
    let [x, y, z] = sizes(table, "size")?;
    let half = DVec3::new(x / 2.0, 0.0, z / 2.0);
    soup.cuboid(at - half, at + half + DVec3::Y * y, surface);
    Ok(())
}

/// A solid wedge from its foot `from` up to its top `to`, `width` across.
fn read_ramp(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let (from, to) = (table.required_numbers::<3>("from")?, table.required_numbers::<3>("to")?);
    let (from, to) = (DVec3::from_array(from), DVec3::from_array(to));
    let width = table.required("width", SIZE)?;
    let flat = DVec3::new(to.x - from.x, 0.0, to.z - from.z);
    let length = flat.length();
    if length < 1e-3 || to.y <= from.y {
        return Err(table.field_error("to", "a ramp's `to` must lie higher than its `from`, and not straight above it"));
    }
    let side = flat.cross(DVec3::Y) / length * (width / 2.0);
    let below = DVec3::new(to.x, from.y, to.z);
    let [a, b] = [from - side, from + side];
    let [c, d] = [to + side, to - side];
    let [e, f] = [below + side, below - side];
    soup.quad([a, b, c, d], surface);
    soup.quad([a, f, e, b], surface);
    soup.quad([f, d, c, e], surface);
    soup.triangle([a, d, f], surface);
    soup.triangle([b, e, c], surface);
    Ok(())
}

/// A solid flight of stairs up along +x: `at` the middle of its foot.
fn read_stairs(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let at = DVec3::from_array(table.required_numbers::<3>("at")?);
    let (rise, tread) = (table.required("rise", SIZE)?, table.required("tread", SIZE)?);
    let width = table.required("width", SIZE)?;
    let count = table.required("count", 1.0..=MANY)? as usize;
    let end = tread * count as f64;
    for i in 0..count {
        let (near, low) = (tread * i as f64, rise * i as f64);
        let from = at + DVec3::new(near, low, -width / 2.0);
        soup.cuboid(from, at + DVec3::new(end, low + rise, width / 2.0), surface);
    }
    Ok(())
}

/// An upright column: `at` the middle of its bottom.
fn read_cylinder(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let at = DVec3::from_array(table.required_numbers::<3>("at")?);
    let (radius, height) = (table.required("radius", SIZE)?, table.required("height", SIZE)?);
    let sides = table.number("sides", 3.0..=MANY)?.unwrap_or(24.0) as usize;
    let ring = |y: f64| -> Vec<DVec3> {
        let corner = |i: usize| {
            let angle = std::f64::consts::TAU * i as f64 / sides as f64;
            at + DVec3::new(radius * angle.cos(), y, radius * angle.sin())
        };
        (0..sides).map(corner).collect()
    };
    soup.prism(&ring(0.0), &ring(height), surface);
    Ok(())
}

/// A ball of facets about `facet` metres wide.
fn read_ball(table: &Table<'_>, soup: &mut Soup, surface: u16) -> Result<(), FileError> {
    let at = DVec3::from_array(table.required_numbers::<3>("at")?);
    let radius = table.required("radius", SIZE)?;
    let facet = table.number("facet", SIZE)?.unwrap_or(0.5);
    let rings = (std::f64::consts::PI * radius / facet).round().clamp(3.0, MANY) as usize;
    let around = 2 * rings;
    let point = |ring: usize, i: usize| {
        let (polar, turn) = (ring as f64 / rings as f64 * 0.5, i as f64 / around as f64);
        let (polar, turn) = (polar * std::f64::consts::TAU, turn * std::f64::consts::TAU);
        at + DVec3::new(polar.sin() * turn.cos(), polar.cos(), polar.sin() * turn.sin()) * radius
    };
    for (ring, i) in (0..rings).flat_map(|ring| (0..around).map(move |i| (ring, i))) {
        let first = soup.corners.len() as u32;
        soup.corners.extend([point(ring, i), point(ring, i + 1), point(ring + 1, i + 1), point(ring + 1, i)]);
        soup.indices.extend([0, 1, 2, 0, 2, 3].map(|corner| first + corner));
        soup.surfaces.extend([surface; 2]);
    }
    Ok(())
}

/// How far to either side of its plane a tile map reaches, metres.
const TILES_DEEP: f64 = 1.0;
/// How thick a floor that is passed from below is drawn, in parts of a tile.
const PLANK: f64 = 0.15;
/// Pixels to a metre.
const PIXELS: std::ops::RangeInclusive<f64> = 1e-3..=1e6;

/// A tile map, upright in x and y: `at` its upper left corner.
fn read_tiles(table: &Table<'_>, soup: &mut Soup) -> Result<(), FileError> {
    let name = table.text("file")?.ok_or_else(|| table.error("tiles need their `file`: .tmx"))?;
    let at = DVec3::from_array(table.numbers::<3>("at")?.unwrap_or_default());
    let pixels = table.number("pixels", PIXELS)?.unwrap_or(16.0);
    let path = table.directory().join(name);
    if !path.is_file() {
        return Err(table.field_error("file", format!("there is no file {}", path.display())));
    }
    let map = TileMap::load(&path, pixels)?;
    let deep = DVec3::Z * TILES_DEEP;
    for (line, surface, one_way) in map.tiles.lines() {
        let surface = soup.surface(&map.surfaces[usize::from(surface)], None);
        if one_way && !soup.one_way.contains(&surface) {
            soup.one_way.push(surface);
        }
        let [a, b] = line.map(|p| at + DVec3::new(p.x, p.y, 0.0));
        soup.quad([a + deep, a - deep, b - deep, b + deep], surface);
    }
    add_faces(&map, at + deep, soup);
    Ok(())
}

/// The faces of tiles toward the viewer: nobody gets there, but pictures show them.
fn add_faces(map: &TileMap, at: DVec3, soup: &mut Soup) {
    let (wide, tall) = map.tiles.size();
    let side = map.tiles.scale().metres(map.tiles.tile_size());
    for (x, y) in (0..tall).flat_map(|y| (0..wide).map(move |x| (x, y))) {
        let (bottom, left, right) = match map.tiles.tile(x, y) {
            Tile::Empty => continue,
            Tile::Solid => (0.0, 1.0, 1.0),
            Tile::OneWay => (1.0 - PLANK, 1.0, 1.0),
            Tile::Slope { left, right } => (0.0, f64::from(left), f64::from(right)),
        };
        let surface = soup.surface(&map.surfaces[usize::from(map.tiles.surface(x, y))], None);
        let corner = |u: f64, v: f64| at + DVec3::new(x as f64 + u, v - 1.0 - y as f64, 0.0) * side;
        soup.quad([corner(0.0, bottom), corner(1.0, bottom), corner(1.0, right), corner(0.0, left)], surface);
    }
}

/// A mesh file, its surfaces named by its materials.
fn read_mesh(table: &Table<'_>, soup: &mut Soup) -> Result<(), FileError> {
    let name = table.text("file")?.ok_or_else(|| table.error("a mesh needs its `file`: .glb, .gltf or .obj"))?;
    let at = DVec3::from_array(table.numbers::<3>("at")?.unwrap_or_default());
    let scale = table.number("scale", 1e-6..=1e6)?.unwrap_or(1.0);
    let surface = table.text("surface")?;
    let path = table.directory().join(name);
    if !path.is_file() {
        return Err(table.field_error("file", format!("there is no file {}", path.display())));
    }
    let mesh = mesh_file::read(&path)?;
    let looks = mesh.materials.iter().zip(&mesh.colours);
    let numbers: Vec<u16> = looks.map(|(m, c)| soup.surface(surface.unwrap_or(m), *c)).collect();
    let first = soup.corners.len() as u32;
    soup.corners.extend(mesh.corners.iter().map(|c| at + *c * scale));
    soup.indices.extend(mesh.indices.iter().map(|i| first + i));
    soup.surfaces.extend(mesh.material_of.iter().map(|m| numbers[usize::from(*m)]));
    Ok(())
}

fn sizes<const N: usize>(table: &Table<'_>, field: &'static str) -> Result<[f64; N], FileError> {
    let sizes = table.required_numbers::<N>(field)?;
    match sizes.iter().find(|s| !SIZE.contains(s)) {
        Some(bad) => {
            let message = format!("{bad} is out of range: {} to {} m is allowed", SIZE.start(), SIZE.end());
            Err(table.field_error(field, message))
        }
        None => Ok(sizes),
    }
}

/// Turns a piece `degrees` to the left, seen from above, about an upright axis through `pivot`.
fn turn_about(pivot: DVec3, corners: &mut [DVec3], degrees: f64) {
    let (sin, cos) = degrees.to_radians().sin_cos();
    for corner in corners.iter_mut().filter(|_| degrees != 0.0) {
        let off = *corner - pivot;
        *corner = pivot + DVec3::new(off.x * cos + off.z * sin, off.y, off.z * cos - off.x * sin);
    }
}
