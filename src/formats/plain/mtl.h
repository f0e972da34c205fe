// The material library of OBJ.
#pragma once

#include <map>

#include "formats/read_model.h"

namespace rakugo::formats {

/// Reads an MTL file's text (UTF-8 or UTF-16) and adds its materials to `materials` by name; one that is
/// there already stays. Specular exponents become roughness (Lafortune and Willems' lobe: sqrt(2 / (Ns +
/// 2))); the metal and roughness statements of newer exporters are taken as they are. Pictures are added to
/// `images` once a path, without their bytes. Options of maps that change where a picture lies are noted;
/// `-clamp on` is kept. What is not understood is a note. Never fails.
void readMtl(base::ByteSpan bytes, const std::string& name, std::map<std::string, scene::Material>& materials,
             std::vector<scene::Image>& images, std::vector<base::Note>& notes);

}  // namespace rakugo::formats
