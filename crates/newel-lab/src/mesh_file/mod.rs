//! Meshes from files: glTF 2.0 and Wavefront OBJ.

mod gltf_file;
mod obj_file;

use std::path::Path;

use newel::glam::DVec3;

use crate::error::FileError;

/// A mesh as a file holds it.
#[derive(Debug, Clone, Default)]
pub struct MeshFile {
    /// Corners, metres.
    pub corners: Vec<DVec3>,
    /// Three to a triangle.
    pub indices: Vec<u32>,
    /// Names of the materials.
    pub materials: Vec<String>,
    /// Their colours, red, green and blue from 0 to 1, where the file has them.
    pub colours: Vec<Option<[f32; 3]>>,
    /// Which material each triangle has.
    pub material_of: Vec<usize>,
}

impl MeshFile {
    /// The index of a material by its name, added if new.
    fn material(&mut self, name: &str, colour: Option<[f32; 3]>) -> usize {
        self.materials.iter().position(|m| m == name).unwrap_or_else(|| {
            self.materials.push(name.to_owned());
            self.colours.push(colour);
            self.materials.len() - 1
        })
    }
}

/// Reads a mesh by the ending of its file's name: .glb, .gltf or .obj.
///
/// # Errors
/// [`FileError`] where the ending is unknown, the file is not what its ending says, or there is no usable triangle in
/// it.
pub fn read(file: &Path) -> Result<MeshFile, FileError> {
    let ending = file.extension().map(|e| e.to_string_lossy().to_lowercase()).unwrap_or_default();
    let bytes = std::fs::read(file).map_err(|e| FileError::whole(file, format!("cannot be read: {e}")))?;
    let mesh = match ending.as_str() {
        "glb" | "gltf" => gltf_file::read(file, &bytes),
        "obj" => obj_file::read(file, &bytes),
        other => {
            Err(FileError::whole(file, format!("unknown ending `.{other}`: meshes are .glb, .gltf or .obj files")))
        }
    }?;
    check(file, &mesh)?;
    Ok(mesh)
}

fn check(file: &Path, mesh: &MeshFile) -> Result<(), FileError> {
    newel::Mesh::new(&mesh.corners, &mesh.indices).map(|_| ()).map_err(|e| FileError::whole(file, e.to_string()))
}
