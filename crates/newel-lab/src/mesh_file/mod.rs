//! Meshes from files: glTF 2.0 and Wavefront OBJ.

mod gltf_file;
mod obj_file;

use std::path::Path;

use newel::glam::DVec3;
use newel::{Mesh, MeshError};

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
    pub material_of: Vec<u16>,
}

impl MeshFile {
    /// The terrain it is, each triangle made of its material: surface 0 is the first of `materials`, and so on.
    ///
    /// ```
    /// use newel::{Hold, Runner, Terrain};
    /// # let demo = |name| std::path::Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo")).join(name);
    /// let file = newel_lab::read_mesh(&demo("meshes/gull-rock.glb"))?;
    /// let mut level = file.mesh()?;
    /// if let Some(planks) = file.surface("planks") {
    ///     level = level.with_hold(planks, Hold::Wall);
    /// }
    /// let tuning = newel_lab::read_tuning(&demo("tunings/keeper.toml"))?;
    /// let hero = Runner::spawn(&level, &tuning, [-4.0, 6.5, 0.8])?;
    /// assert_eq!(hero.character.position.x, -4.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    ///
    /// # Errors
    /// As [`Mesh::new`] and [`Mesh::with_surfaces`]; for what [`read`] has answered, and nobody changed since, only
    /// [`MeshError::TooLarge`].
    pub fn mesh(&self) -> Result<Mesh, MeshError> {
        Mesh::new(&self.corners, &self.indices)?.with_surfaces(&self.material_of)
    }

    /// The surface that [`mesh`](Self::mesh) makes of a material, by its name; `None` where no material is called so.
    pub fn surface(&self, material: &str) -> Option<u16> {
        self.materials.iter().position(|m| m == material).and_then(|m| u16::try_from(m).ok())
    }

    /// The index of a material by its name, added if new.
    fn material(&mut self, name: &str, colour: Option<[f32; 3]>) -> u16 {
        let known = self.materials.iter().position(|m| m == name);
        let number = known.unwrap_or_else(|| {
            self.materials.push(name.to_owned());
            self.colours.push(colour);
            self.materials.len() - 1
        });
        u16::try_from(number).unwrap_or(u16::MAX)
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
        "glb" | "gltf" => gltf_file::read(file, bytes),
        "obj" => obj_file::read(file, &bytes),
        other => {
            Err(FileError::whole(file, format!("unknown ending `.{other}`: meshes are .glb, .gltf or .obj files")))
        }
    }?;
    check(file, &mesh)?;
    Ok(mesh)
}

/// Facts that need no built mesh, which takes time and memory: only that it is too large is told later.
fn check(file: &Path, mesh: &MeshFile) -> Result<(), FileError> {
    let most = usize::from(u16::MAX);
    if mesh.materials.len() > most {
        let given = mesh.materials.len();
        return Err(FileError::whole(file, format!("{given} materials are too many: at most {most} are allowed")));
    }
    let refuse = |error: MeshError| Err(FileError::whole(file, error.to_string()));
    if let Some((vertex, at)) = mesh.corners.iter().enumerate().find(|(_, corner)| !corner.is_finite()) {
        return refuse(MeshError::NotFinite { vertex, at: at.to_array() });
    }
    let has_area = |t: &[u32]| {
        let [a, b, c] = [t[0], t[1], t[2]].map(|i| mesh.corners[i as usize]);
        (b - a).cross(c - a).length_squared() > 0.0
    };
    match mesh.indices.chunks_exact(3).any(has_area) {
        true => Ok(()),
        false => refuse(MeshError::NoTriangles { given: mesh.indices.len() / 3 }),
    }
}
