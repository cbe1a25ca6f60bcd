//! Wavefront OBJ: the triangles of every object, with the material that `usemtl` gives them; where none does, the
//! object's or group's name stands for it.

use std::io::Read;
use std::path::Path;

use newel::glam::DVec3;

use super::MeshFile;
use crate::error::FileError;

/// Name of the material library ahead of everything.
const NAMED_HERE: &str = "materials named in this very file";

pub(super) fn read(file: &Path, bytes: &[u8]) -> Result<MeshFile, FileError> {
    let refuse = |why: String| FileError::whole(file, format!("is not a usable OBJ file: {why}"));
    let options = tobj::LoadOptions { triangulate: true, single_index: false, ..Default::default() };
    // The names alone are needed, and those the file itself holds: its material library, which may be missing, is not
    // opened. The parser asks for the materials where a library is named, so one is named ahead of everything.
    let names = materials_used(bytes);
    let known = |library: &Path| {
        if library != Path::new(NAMED_HERE) {
            return Ok(Default::default());
        }
        let named = |name: &String| tobj::Material { name: name.clone(), ..Default::default() };
        let numbered = names.iter().enumerate().map(|(i, name)| (name.clone(), i)).collect();
        Ok((names.iter().map(named).collect(), numbered))
    };
    let ahead = format!("mtllib {NAMED_HERE}\n");
    let mut text = ahead.as_bytes().chain(bytes);
    let (models, _) = tobj::load_obj_buf(&mut text, &options, known).map_err(|e| refuse(e.to_string()))?;
    let mut mesh = MeshFile::default();
    for model in models {
        let first = mesh.corners.len() as u32;
        let corner = |p: &[f32]| DVec3::new(f64::from(p[0]), f64::from(p[1]), f64::from(p[2]));
        mesh.corners.extend(model.mesh.positions.chunks_exact(3).map(corner));
        let count = mesh.corners.len() as u32 - first;
        if let Some(bad) = model.mesh.indices.iter().find(|i| **i >= count) {
            return Err(refuse(format!("a face names vertex {}, but there are only {count}", bad + 1)));
        }
        let named = model.mesh.material_id.and_then(|id| names.get(id)).unwrap_or(&model.name);
        let name = if named == "unnamed_object" { "plain" } else { named };
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

/// The names that `usemtl` lines give, each once, as the parser takes them: the rest of the line.
fn materials_used(bytes: &[u8]) -> Vec<String> {
    let mut names: Vec<String> = Vec::new();
    let text = String::from_utf8_lossy(bytes);
    for name in text.lines().filter_map(|line| line.trim().strip_prefix("usemtl").map(str::trim)) {
        if !name.is_empty() && !names.iter().any(|known| known == name) {
            names.push(name.to_owned());
        }
    }
    names
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn triangles_are_of_the_material_in_use_whatever_became_of_its_library() {
        let corners = "v 0 0 0\nv 0 0 1\nv 1 0 1\nv 1 0 0\n";
        let faces = "o yard\nusemtl wet stone\nf 1 2 3 4\nusemtl rungs\nf 1 2 3\nusemtl wet stone\nf 2 3 4\n";
        for library in ["", "mtllib yard.mtl\n"] {
            let file = read(Path::new("yard.obj"), format!("{library}{corners}{faces}").as_bytes()).expect("a mesh");
            assert_eq!(file.materials, ["wet stone", "rungs"]);
            assert_eq!(file.material_of, [0, 0, 1, 0], "a quad is two triangles");
            let made = file.mesh().expect("a level");
            let rungs = made.corners().find(|(_, surface)| *surface == 1).expect("one of rungs");
            assert_eq!(rungs.0.map(|p| (p.x, p.z)), [(0.0, 0.0), (0.0, 1.0), (1.0, 1.0)]);
            assert_eq!((file.surface("rungs"), file.surface("yard")), (Some(1), None));
        }
        let bare = read(Path::new("yard.obj"), format!("{corners}o yard\nf 1 2 3\n").as_bytes()).expect("a mesh");
        assert_eq!(bare.materials, ["yard"], "without materials the object's name stands for one");
    }
}
