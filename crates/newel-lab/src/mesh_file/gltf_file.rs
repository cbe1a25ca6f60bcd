//! glTF 2.0, binary or text: the triangles of every node of the default scene, in the scene's frame.

use std::borrow::Cow;
use std::path::Path;

use base64::Engine;
use gltf::buffer::Source;
use gltf::mesh::Mode;
use newel::glam::DVec3;

use super::MeshFile;
use crate::error::FileError;

pub(super) fn read(file: &Path, bytes: Vec<u8>) -> Result<MeshFile, FileError> {
    let refuse = |why: String| FileError::whole(file, format!("is not a usable glTF 2.0 file: {why}"));
    let document = gltf::Gltf::from_slice(&bytes).map_err(|e| refuse(e.to_string()))?;
    drop(bytes);
    let buffers =
        document.buffers().map(|b| buffer(file, &b, document.blob.as_deref())).collect::<Result<Vec<_>, _>>()?;
    let mut mesh = MeshFile::default();
    let scene = document.default_scene().or_else(|| document.scenes().next());
    let scene = scene.ok_or_else(|| refuse("it has no scene".to_owned()))?;
    for node in scene.nodes() {
        add_node(&mut mesh, &node, Matrix::IDENTITY, &buffers, 0).map_err(refuse)?;
    }
    Ok(mesh)
}

fn buffer<'a>(file: &Path, buffer: &gltf::Buffer<'_>, blob: Option<&'a [u8]>) -> Result<Cow<'a, [u8]>, FileError> {
    let data = match buffer.source() {
        Source::Bin => blob.map(Cow::from).ok_or_else(|| FileError::whole(file, "its binary part is missing"))?,
        Source::Uri(uri) if uri.starts_with("data:") => {
            let encoded = uri.split_once("base64,").map_or("", |parts| parts.1);
            let decoded = base64::engine::general_purpose::STANDARD.decode(encoded);
            decoded.map(Cow::from).map_err(|e| FileError::whole(file, format!("an embedded buffer is broken: {e}")))?
        }
        Source::Uri(uri) => {
            let path = file.parent().unwrap_or(Path::new(".")).join(uri);
            let read = std::fs::read(&path).map(Cow::from);
            read.map_err(|e| FileError::whole(&path, format!("cannot be read: {e}")))?
        }
    };
    if data.len() < buffer.length() {
        let message =
            format!("a buffer has {} bytes where it says {}: the file is cut short", data.len(), buffer.length());
        return Err(FileError::whole(file, message));
    }
    Ok(data)
}

/// Nodes deeper than this are a loop or a joke.
const DEEPEST: usize = 64;

fn add_node(
    mesh: &mut MeshFile,
    node: &gltf::Node<'_>,
    parent: Matrix,
    buffers: &[Cow<'_, [u8]>],
    depth: usize,
) -> Result<(), String> {
    if depth > DEEPEST {
        return Err(format!("its nodes are more than {DEEPEST} deep"));
    }
    let place = parent.then(&Matrix::of(node));
    if let Some(shape) = node.mesh() {
        for primitive in shape.primitives() {
            add_primitive(mesh, &primitive, &place, buffers)?;
        }
    }
    node.children().try_for_each(|child| add_node(mesh, &child, place, buffers, depth + 1))
}

fn add_primitive(
    mesh: &mut MeshFile,
    primitive: &gltf::Primitive<'_>,
    place: &Matrix,
    buffers: &[Cow<'_, [u8]>],
) -> Result<(), String> {
    if primitive.mode() != Mode::Triangles {
        return Ok(());
    }
    check_views(primitive, buffers)?;
    let reader = primitive.reader(|b| buffers.get(b.index()).map(AsRef::as_ref));
    let positions = reader.read_positions().ok_or("a primitive has no positions")?;
    let first = mesh.corners.len() as u32;
    mesh.corners.extend(positions.map(|p| place.apply(p)));
    let count = mesh.corners.len() as u32 - first;
    let indices: Vec<u32> = match reader.read_indices() {
        Some(indices) => indices.into_u32().collect(),
        None => (0..count).collect(),
    };
    if let Some(bad) = indices.iter().find(|i| **i >= count) {
        return Err(format!("an index is {bad}, but its primitive has only {count} vertices"));
    }
    if !indices.len().is_multiple_of(3) {
        return Err(format!("a primitive has {} indices: triangles take three each", indices.len()));
    }
    let look = primitive.material();
    let [r, g, b, _] = look.pbr_metallic_roughness().base_color_factor();
    let material = mesh.material(look.name().unwrap_or("plain"), look.index().map(|_| [r, g, b]));
    mesh.material_of.extend(std::iter::repeat_n(material, indices.len() / 3));
    mesh.indices.extend(indices.iter().map(|i| first + i));
    Ok(())
}

/// The reader slices buffers without asking whether they are long enough: ask first.
fn check_views(primitive: &gltf::Primitive<'_>, buffers: &[Cow<'_, [u8]>]) -> Result<(), String> {
    let positions = primitive.get(&gltf::Semantic::Positions);
    for accessor in positions.into_iter().chain(primitive.indices()) {
        let Some(view) = accessor.view() else { continue };
        let end = view.offset() + view.length();
        let length = buffers.get(view.buffer().index()).map_or(0, |buffer| buffer.len());
        let stride = view.stride().unwrap_or(accessor.size());
        let needed = accessor.offset() + stride * accessor.count().saturating_sub(1) + accessor.size();
        if end > length || (accessor.count() > 0 && needed > view.length()) {
            return Err("an accessor reaches beyond its buffer".to_owned());
        }
    }
    Ok(())
}

/// A transform, column by column as the file keeps it, in double precision.
#[derive(Clone, Copy)]
struct Matrix([[f64; 4]; 4]);

impl Matrix {
    const IDENTITY: Matrix =
        Matrix([[1.0, 0.0, 0.0, 0.0], [0.0, 1.0, 0.0, 0.0], [0.0, 0.0, 1.0, 0.0], [0.0, 0.0, 0.0, 1.0]]);

    fn of(node: &gltf::Node<'_>) -> Matrix {
        Matrix(node.transform().matrix().map(|column| column.map(f64::from)))
    }

    fn then(&self, inner: &Matrix) -> Matrix {
        Matrix(std::array::from_fn(|c| std::array::from_fn(|r| (0..4).map(|k| self.0[k][r] * inner.0[c][k]).sum())))
    }

    fn apply(&self, [x, y, z]: [f32; 3]) -> DVec3 {
        let [a, b, c, d] = self.0.map(|column| DVec3::new(column[0], column[1], column[2]));
        a * f64::from(x) + b * f64::from(y) + c * f64::from(z) + d
    }
}
