//! Wavefront OBJ: the triangles of every object; each object's or group's name is its material here.

use std::path::Path;

use newel::glam::DVec3;

use super::MeshFile;
use crate::error::FileError;

pub(super) fn read(file: &Path, bytes: &[u8]) -> Result<MeshFile, FileError> {
    let refuse = |why: String| FileError::whole(file, format!("is not a usable OBJ file: {why}"));
    let options = tobj::LoadOptions { triangulate: true, single_index: false, ..Default::default() };
    // Material libraries hold colours, which nothing here needs.
    let no_materials = |_: &Path| Ok((Vec::new(), Default::default()));
    let (models, _) = tobj::load_obj_buf(&mut &bytes[..], &options, no_materials).map_err(|e| refuse(e.to_string()))?;
    let mut mesh = MeshFile::default();
    for model in models {
        let first = mesh.corners.len() as u32;
        let corner = |p: &[f32]| DVec3::new(f64::from(p[0]), f64::from(p[1]), f64::from(p[2]));
        mesh.corners.extend(model.mesh.positions.chunks_exact(3).map(corner));
        let count = mesh.corners.len() as u32 - first;
        if let Some(bad) = model.mesh.indices.iter().find(|i| **i >= count) {
            return Err(refuse(format!("a face names vertex {}, but there are only {count}", bad + 1)));
        }
        let name = if model.name == "unnamed_object" { "plain" } else { model.name.as_str() };
        let material = mesh.material(name, None);
        let triangles = model.mesh.indices.len() / 3;
        mesh.material_of.extend(std::iter::repeat_n(material, triangles));
        mesh.indices.extend(model.mesh.indices[..triangles * 3].iter().map(|i| first + i));
    }
    if mesh.indices.is_empty() {
        return Err(refuse("it has no faces".to_owned()));
    }
    Ok(mesh)
}
