//! Writes glTF 2.0 in its binary form: one mesh, a primitive for each material.

use newel::glam::Vec3;
use serde_json::{Value, json};

use crate::build::{Build, Part};

/// Colours for those who draw it, red, green and blue from 0 to 1.
const COLOURS: [(&str, [f64; 3]); 22] = [
    ("beam", [0.36, 0.27, 0.20]),
    ("boulder", [0.47, 0.46, 0.45]),
    ("concrete", [0.72, 0.71, 0.68]),
    ("door", [0.20, 0.31, 0.42]),
    ("drystone", [0.55, 0.53, 0.50]),
    ("glass", [0.96, 0.88, 0.52]),
    ("grass", [0.47, 0.60, 0.31]),
    ("iron", [0.18, 0.18, 0.20]),
    ("masonry", [0.66, 0.63, 0.58]),
    ("paint_red", [0.75, 0.22, 0.18]),
    ("paint_white", [0.94, 0.93, 0.90]),
    ("path", [0.78, 0.69, 0.52]),
    ("pile", [0.30, 0.23, 0.18]),
    ("plank", [0.60, 0.47, 0.33]),
    ("plaster", [0.90, 0.86, 0.77]),
    ("rock", [0.53, 0.51, 0.48]),
    ("sand", [0.87, 0.80, 0.62]),
    ("seabed", [0.36, 0.52, 0.55]),
    ("slate", [0.35, 0.38, 0.43]),
    ("step", [0.69, 0.66, 0.60]),
    ("plain", [0.7, 0.7, 0.7]),
    ("wall", [0.7, 0.7, 0.7]),
];

pub fn to_bytes(islet: &Build) -> Result<Vec<u8>, serde_json::Error> {
    let mut binary = Vec::new();
    let (mut views, mut accessors, mut primitives, mut materials) = (vec![], vec![], vec![], vec![]);
    for (name, part) in &islet.parts {
        let material = materials.len();
        materials.push(material_of(name));
        let position = accessors.len();
        let (positions, indices) = (views.len(), views.len() + 1);
        views.push(view(&mut binary, 34962, part.corners.iter().flat_map(|c| c.to_array()).flat_map(f32::to_le_bytes)));
        views.push(view(&mut binary, 34963, part.indices.iter().copied().flat_map(u32::to_le_bytes)));
        accessors.push(positions_of(part, positions));
        accessors.push(
            json!({ "bufferView": indices, "componentType": 5125, "count": part.indices.len(), "type": "SCALAR" }),
        );
        primitives
            .push(json!({ "attributes": { "POSITION": position }, "indices": position + 1, "material": material }));
    }
    let document = json!({
        "asset": { "version": "2.0", "generator": "the gull_rock example of newel-lab" },
        "scene": 0, "scenes": [{ "nodes": [0] }], "nodes": [{ "mesh": 0, "name": "Gull Rock" }],
        "meshes": [{ "primitives": primitives }], "materials": materials,
        "accessors": accessors, "bufferViews": views, "buffers": [{ "byteLength": binary.len() }],
    });
    let mut text = serde_json::to_vec(&document)?;
    text.resize(text.len().next_multiple_of(4), b' ');
    let mut file = Vec::new();
    file.extend(b"glTF");
    let total = 12 + 8 + text.len() + 8 + binary.len();
    [2, total as u32].into_iter().for_each(|n| file.extend(n.to_le_bytes()));
    for (kind, chunk) in [(b"JSON", &text), (b"BIN\0", &binary)] {
        file.extend((chunk.len() as u32).to_le_bytes());
        file.extend(kind);
        file.extend(chunk);
    }
    Ok(file)
}

fn material_of(name: &str) -> Value {
    let colour = COLOURS.iter().find(|c| c.0 == name).map_or([0.6; 3], |c| c.1);
    json!({ "name": name, "pbrMetallicRoughness": {
        "baseColorFactor": [colour[0], colour[1], colour[2], 1.0], "metallicFactor": 0.0, "roughnessFactor": 0.9 } })
}

fn view(binary: &mut Vec<u8>, target: u32, bytes: impl Iterator<Item = u8>) -> Value {
    let offset = binary.len();
    binary.extend(bytes);
    json!({ "buffer": 0, "byteOffset": offset, "byteLength": binary.len() - offset, "target": target })
}

fn positions_of(part: &Part, view: usize) -> Value {
    let fold = |f: fn(Vec3, Vec3) -> Vec3| part.corners.iter().copied().reduce(f).unwrap_or_default().to_array();
    json!({ "bufferView": view, "componentType": 5126, "count": part.corners.len(), "type": "VEC3",
        "min": fold(Vec3::min), "max": fold(Vec3::max) })
}
