#include "bundle/records.h"

#include <algorithm>
#include <cmath>

#include "base/phrase.h"
#include "bundle/layout.h"
#include "bundle/manifest.h"
#include "bundle/record_json.h"

namespace rakugo::bundle {
namespace {

constexpr int64_t kMostBones = 65'535, kMostIconSide = 16'384;

// Parses, lets `read` take the fields, and turns the first complaint into an error.
template <class T, class Read>
base::Result<T> decode(base::ByteSpan bytes, const std::string& file, const Read& read) {
  RAKUGO_ASSIGN(const Json json, base::parseJson(base::asText(bytes), file));
  std::vector<base::Error> complaints;
  JsonFields in(json, file, "", complaints);
  T out;
  if (json.is_object()) {
    if (in.integer("format", 0) != 1)
      in.complain("bundle.record", base::phrase("The record's format is not 1."), "format");
    read(in, out);
  }
  if (!complaints.empty()) return complaints.front();
  return out;
}

constexpr std::array<const char*, 3> kWrapNames = {"repeat", "clamp", "mirror"};
constexpr std::array<const char*, 5> kSlotNames = {"base_color", "metallic_roughness", "normal", "occlusion",
                                                   "emissive"};

PictureLookup readLookup(JsonFields& in) {
  PictureLookup out;
  const int64_t uv = in.integer("uv", 0);
  if (uv != 0 && uv != 1) in.complain("bundle.record", base::phrase("Texture coordinates are 0 or 1."), "uv");
  out.uv = uv == 1 ? 1 : 0;
  const std::vector<std::string> wrap = in.texts("wrap");
  for (size_t i = 0; i < wrap.size() && i < 2; ++i) {
    const auto name = std::find(kWrapNames.begin(), kWrapNames.end(), wrap[i]);
    if (name == kWrapNames.end())
      in.complain("bundle.record", base::phrase("A picture is wrapped by repeat, clamp or mirror."), "wrap");
    else
      out.wrap[i] = static_cast<PictureLookup::Wrap>(name - kWrapNames.begin());
  }
  readNumbers(in, "offset", out.offset);
  readNumbers(in, "scale", out.scale);
  out.turn = static_cast<float>(in.number("turn", 0));
  return out;
}

base::Bytes toBytes(const Json& json) {
  const std::string text = base::jsonText(json);
  const base::ByteSpan view = base::asBytes(text);
  return {view.begin(), view.end()};
}

}  // namespace

base::Bytes encodeManifest(const Manifest& m) {
  Json out = Json::object();
  out["format"] = 1;
  out["mod"] = Json{{"id", m.mod_id},
                    {"title", m.title},
                    {"author", m.author},
                    {"version", m.version},
                    {"description", m.description}};
  out["rulebook"] = Json{{"id", m.rulebook_id}, {"version", m.rulebook_version}};
  out["target"] = m.target;
  out["objects"] = m.objects;
  out["shared_assets"] = m.shared_assets;
  out["credits"] = Json::array();
  for (const Credit& c : m.credits)
    out["credits"].push_back(
        Json{{"work", c.work}, {"author", c.author}, {"licence", c.licence}, {"address", c.address}});
  return toBytes(out);
}

base::Result<Manifest> decodeManifest(base::ByteSpan bytes, const std::string& file) {
  return decode<Manifest>(bytes, file, [](JsonFields& in, Manifest& m) {
    if (auto mod = in.object("mod")) {
      m.mod_id = mod->requiredText("id");
      m.title = mod->text("title");
      m.author = mod->text("author");
      m.version = mod->text("version");
      m.description = mod->text("description");
    } else {
      in.complain("bundle.manifest", base::phrase("The manifest does not say which mod this is."), "mod");
    }
    if (auto rulebook = in.object("rulebook")) {
      m.rulebook_id = rulebook->text("id");
      m.rulebook_version = rulebook->text("version");
    }
    m.target = in.text("target");
    m.objects = in.texts("objects");
    m.shared_assets = in.texts("shared_assets");
    for (JsonFields& one : in.objects("credits"))
      m.credits.push_back({one.text("work"), one.text("author"), one.text("licence"), one.text("address")});
  });
}

base::Bytes encodeObject(const ObjectRecord& r) {
  Json out = Json::object();
  out["format"] = 1;
  out["id"] = r.id;
  out["kind"] = r.kind;
  out["name"] = r.name;
  out["card"] = r.card;
  out["icon"] = r.icon;
  out["bounds_min"] = numbers(r.bounds_min);
  out["bounds_max"] = numbers(r.bounds_max);
  if (r.seen) {
    out["seen_min"] = numbers((*r.seen)[0]);
    out["seen_max"] = numbers((*r.seen)[1]);
  }
  out["pieces"] = Json::array();
  for (const ObjectPiece& p : r.pieces) {
    Json piece = placement(p.name, p.position, p.turn);
    piece["scale"] = numbers(p.scale);
    piece["mesh"] = p.mesh;
    if (!p.region.empty()) piece["region"] = p.region;
    if (p.rig >= 0) piece["rig"] = p.rig;
    if (p.bone >= 0) piece["bone"] = p.bone;
    if (!p.as.empty()) piece["as"] = p.as;
    if (p.apart) piece["apart"] = true;
    for (const auto& [mesh, from] : p.lighter)
      piece["lighter"].push_back(Json{{"mesh", mesh}, {"from", from}});
    out["pieces"].push_back(piece);
  }
  out["points"] = Json::array();
  for (const ObjectPoint& p : r.points) {
    Json point = placement(p.name, p.position, p.turn);
    if (!p.as.empty()) point["as"] = p.as;
    out["points"].push_back(point);
  }
  for (const ObjectRig& rig : r.rigs) {
    Json one{{"skeleton", rig.skeleton}, {"position", numbers(rig.position)}, {"turn", numbers(rig.turn)}};
    for (const auto& [name, animation] : rig.animations)
      one["animations"].push_back(Json{{"name", name}, {"animation", animation}});
    if (rig.scale != 1) one["scale"] = rig.scale;
    out["rigs"].push_back(one);
  }
  for (const ObjectLamp& lamp : r.lamps) out["lamps"].push_back(toRecordJson(lamp));
  for (const ObjectEmitter& emitter : r.emitters) out["emitters"].push_back(toRecordJson(emitter));
  for (const ObjectShape& shape : r.shapes) out["shapes"].push_back(toRecordJson(shape));
  for (const ObjectSound& sound : r.sounds) out["sounds"].push_back(toRecordJson(sound));
  for (const ObjectMotion& motion : r.motions) out["motions"].push_back(toRecordJson(motion));
  for (const ObjectIcon& one : r.icons)
    out["icons"].push_back(Json{{"width", one.width}, {"height", one.height}, {"icon", one.icon}});
  for (const ObjectListEntry& one : r.lists)
    out["lists"].push_back(Json{{"list", one.list}, {"values", one.values}});
  if (!r.replaces.empty()) out["replaces"] = r.replaces;
  return toBytes(out);
}

base::Result<ObjectRecord> decodeObject(base::ByteSpan bytes, const std::string& file) {
  return decode<ObjectRecord>(bytes, file, [](JsonFields& in, ObjectRecord& r) {
    r.id = in.requiredText("id");
    r.kind = in.requiredText("kind");
    r.name = in.text("name");
    r.icon = in.text("icon");
    r.replaces = in.text("replaces");
    if (in.has("card")) r.card = in.json()["card"];
    if (!r.card.is_object())
      in.complain("bundle.record", base::phrase("The card must be an object."), "card");
    readNumbers(in, "bounds_min", r.bounds_min);
    readNumbers(in, "bounds_max", r.bounds_max);
    if (in.has("seen_min") || in.has("seen_max")) {
      r.seen.emplace();
      readNumbers(in, "seen_min", (*r.seen)[0]);
      readNumbers(in, "seen_max", (*r.seen)[1]);
      for (size_t i = 0; i < 3; ++i)
        if ((*r.seen)[0][i] > r.bounds_min[i] || (*r.seen)[1][i] < r.bounds_max[i]) {
          in.complain("bundle.record", base::phrase("What is seen in motion holds what is seen at rest."),
                      "seen_min");
          break;
        }
    }
    for (JsonFields& one : in.objects("pieces")) {
      ObjectPiece p;
      p.name = one.text("name");
      p.mesh = one.text("mesh");
      p.region = one.text("region");
      readNumbers(one, "position", p.position);
      readNumbers(one, "scale", p.scale);
      readTurn(one, p.turn);
      for (JsonFields& far : one.objects("lighter")) {
        p.lighter.emplace_back(far.requiredText("mesh"), static_cast<float>(far.number("from")));
        const float before = p.lighter.size() > 1 ? p.lighter[p.lighter.size() - 2].second : 0;
        if (!(p.lighter.back().second > before))
          far.complain("bundle.record", base::phrase("Distances are above 0 and ascend."), "from");
      }
      p.rig = static_cast<int>(std::clamp<int64_t>(one.integer("rig", -1), -1, kMostBones));
      p.bone = static_cast<int>(std::clamp<int64_t>(one.integer("bone", -1), -1, kMostBones));
      p.as = one.text("as");
      p.apart = one.flag("apart");
      if (p.apart && p.as.empty())
        one.complain("bundle.record", base::phrase("What is shown apart says what it is."), "as");
      r.pieces.push_back(p);
    }
    for (JsonFields& one : in.objects("rigs")) {
      ObjectRig rig;
      rig.skeleton = one.requiredText("skeleton");
      readNumbers(one, "position", rig.position);
      readTurn(one, rig.turn);
      for (JsonFields& animation : one.objects("animations"))
        rig.animations.emplace_back(animation.requiredText("name"), animation.requiredText("animation"));
      rig.scale = static_cast<float>(one.number("scale", 1));
      if (!(rig.scale > 0)) one.complain("bundle.record", base::phrase("A scale is above 0."), "scale");
      r.rigs.push_back(std::move(rig));
    }
    for (size_t i = 0; i < r.pieces.size(); ++i)
      if (r.pieces[i].rig >= static_cast<int>(r.rigs.size()))
        in.complain("bundle.record", base::phrase("A piece names a rig that the object does not have."),
                    "pieces/" + std::to_string(i) + "/rig");
    for (JsonFields& one : in.objects("points")) {
      ObjectPoint p;
      p.name = one.requiredText("name");
      readNumbers(one, "position", p.position);
      readTurn(one, p.turn);
      p.as = one.text("as");
      r.points.push_back(p);
    }
    for (JsonFields& one : in.objects("lamps")) r.lamps.push_back(lampFrom(one));
    for (JsonFields& one : in.objects("emitters")) r.emitters.push_back(emitterFrom(one));
    for (JsonFields& one : in.objects("shapes")) r.shapes.push_back(shapeFrom(one));
    for (JsonFields& one : in.objects("sounds")) r.sounds.push_back(soundFrom(one));
    for (JsonFields& one : in.objects("motions")) r.motions.push_back(motionFrom(one));
    for (size_t i = 0; i < r.motions.size(); ++i) {
      const auto beyond = [](const std::vector<uint32_t>& places, size_t count) {
        return std::any_of(places.begin(), places.end(), [&](uint32_t place) { return place >= count; });
      };
      if (beyond(r.motions[i].pieces, r.pieces.size()) || beyond(r.motions[i].lamps, r.lamps.size()) ||
          beyond(r.motions[i].emitters, r.emitters.size()))
        in.complain("bundle.record", base::phrase("It moves what the object does not have."),
                    "motions/" + std::to_string(i));
    }
    for (JsonFields& one : in.objects("icons")) {
      const auto side = [&](const char* key) {
        const int64_t value = one.integer(key, 0);
        if (value < 1 || value > kMostIconSide)
          one.complain("bundle.record", base::phrase("The number is outside of its range."), key);
        return static_cast<uint32_t>(std::clamp<int64_t>(value, 1, kMostIconSide));
      };
      r.icons.push_back({side("width"), side("height"), one.requiredText("icon")});
    }
    for (JsonFields& one : in.objects("lists")) {
      ObjectListEntry entry{one.requiredText("list")};
      if (one.has("values")) entry.values = one.json()["values"];
      if (!entry.values.is_object()) {
        one.complain("bundle.record", base::phrase("The values must be an object."), "values");
        entry.values = Json::object();
      }
      r.lists.push_back(std::move(entry));
    }
  });
}

uint16_t minorOf(const ObjectRecord& r) {
  const bool newer =
      !r.lamps.empty() || !r.emitters.empty() || !r.shapes.empty() || !r.sounds.empty() || !r.lists.empty() ||
      !r.replaces.empty() || !r.motions.empty() || r.seen || !r.icons.empty() ||
      std::any_of(r.pieces.begin(), r.pieces.end(), [](const ObjectPiece& p) { return !p.as.empty(); }) ||
      std::any_of(r.rigs.begin(), r.rigs.end(), [](const ObjectRig& rig) { return rig.scale != 1; });
  return newer ? kMinorOfLamps : 0;
}

base::Bytes encodeSkeleton(const SkeletonRecord& r) {
  Json out = Json::object();
  out["format"] = 1;
  out["bones"] = Json::array();
  for (const BoneRecord& bone : r.bones) {
    Json one = placement(bone.name, bone.position, bone.turn);
    one["scale"] = numbers(bone.scale);
    one["parent"] = bone.parent;
    out["bones"].push_back(one);
  }
  return toBytes(out);
}

base::Result<SkeletonRecord> decodeSkeleton(base::ByteSpan bytes, const std::string& file) {
  return decode<SkeletonRecord>(bytes, file, [](JsonFields& in, SkeletonRecord& r) {
    for (JsonFields& one : in.objects("bones")) {
      BoneRecord bone;
      bone.name = one.text("name");
      readNumbers(one, "position", bone.position);
      readNumbers(one, "scale", bone.scale);
      readTurn(one, bone.turn);
      const int64_t parent = one.integer("parent", -1);
      if (parent < -1 || parent >= static_cast<int64_t>(r.bones.size()))
        one.complain("bundle.record", base::phrase("A parent stands before its children."), "parent");
      else
        bone.parent = static_cast<int>(parent);
      r.bones.push_back(std::move(bone));
    }
    if (r.bones.empty() || r.bones.size() > kMostBones)
      in.complain("bundle.record", base::phrase("A skeleton has 1 to 65,535 bones."), "bones");
  });
}

base::Bytes encodeTexts(const TextsRecord& r) {
  Json out = Json::object();
  out["format"] = 1;
  out["language"] = r.language;
  out["texts"] = Json::object();
  for (const auto& [id, text] : r.texts) out["texts"][id] = text;
  return toBytes(out);
}

base::Result<TextsRecord> decodeTexts(base::ByteSpan bytes, const std::string& file) {
  return decode<TextsRecord>(bytes, file, [](JsonFields& in, TextsRecord& r) {
    r.language = in.requiredText("language");
    const Json* texts = base::memberOf(in.json(), "texts");
    if (texts == nullptr || !texts->is_object())
      return in.complain("bundle.record", base::phrase("The texts must be an object."), "texts");
    for (const auto& [id, text] : texts->items()) {
      if (id.empty() || !text.is_string())
        in.complain("bundle.record", base::phrase("A text has an id."), "texts/" + id);
      else
        r.texts[id] = text.get<std::string>();
    }
  });
}

std::array<std::array<float, 3>, 2> PictureLookup::rows() const {
  const float s = std::sin(turn), c = std::cos(turn);
  return {{{c * scale[0], s * scale[1], offset[0]}, {-s * scale[0], c * scale[1], offset[1]}}};
}

const char* wrapName(PictureLookup::Wrap wrap) { return kWrapNames[static_cast<size_t>(wrap)]; }

uint16_t minorOf(const MaterialRecord& r) {
  const bool plain = std::all_of(r.lookups.begin(), r.lookups.end(),
                                 [](const PictureLookup& l) { return l == PictureLookup(); });
  return r.unlit || !plain ? 2 : 0;
}

base::Bytes encodeMaterial(const MaterialRecord& r) {
  Json out = Json::object();
  out["format"] = 1;
  out["name"] = r.name;
  out["role"] = r.role;
  out["base_color"] = numbers(r.base_color);
  out["metallic"] = r.metallic;
  out["roughness"] = r.roughness;
  out["emissive"] = numbers(r.emissive);
  out["normal_scale"] = r.normal_scale;
  out["occlusion_strength"] = r.occlusion_strength;
  out["alpha"] = r.alpha;
  out["alpha_cutoff"] = r.alpha_cutoff;
  out["double_sided"] = r.double_sided;
  out["filter"] = r.filter;
  out["pictures"] = Json{{"base_color", r.base_color_picture},
                         {"metallic_roughness", r.metallic_roughness_picture},
                         {"normal", r.normal_picture},
                         {"occlusion", r.occlusion_picture},
                         {"emissive", r.emissive_picture}};
  for (size_t i = 0; i < kSlotNames.size(); ++i)
    if (const PictureLookup& lookup = r.lookups[i]; !(lookup == PictureLookup()))
      out["lookups"][kSlotNames[i]] = Json{{"uv", lookup.uv},
                                           {"wrap", {wrapName(lookup.wrap[0]), wrapName(lookup.wrap[1])}},
                                           {"offset", numbers(lookup.offset)},
                                           {"turn", lookup.turn},
                                           {"scale", numbers(lookup.scale)}};
  if (r.unlit) out["unlit"] = true;
  return toBytes(out);
}

base::Result<MaterialRecord> decodeMaterial(base::ByteSpan bytes, const std::string& file) {
  return decode<MaterialRecord>(bytes, file, [](JsonFields& in, MaterialRecord& r) {
    r.name = in.text("name");
    r.role = in.text("role");
    readNumbers(in, "base_color", r.base_color);
    readNumbers(in, "emissive", r.emissive);
    r.metallic = static_cast<float>(in.number("metallic", 1));
    r.roughness = static_cast<float>(in.number("roughness", 1));
    r.normal_scale = static_cast<float>(in.number("normal_scale", 1));
    r.occlusion_strength = static_cast<float>(in.number("occlusion_strength", 1));
    r.alpha = in.text("alpha", "opaque");
    if (r.alpha != "opaque" && r.alpha != "mask" && r.alpha != "blend")
      in.complain("bundle.record", base::phrase("alpha must be opaque, mask or blend."), "alpha");
    r.alpha_cutoff = static_cast<float>(in.number("alpha_cutoff", 0.5));
    r.double_sided = in.flag("double_sided");
    r.filter = in.text("filter", "linear");
    if (r.filter != "linear" && r.filter != "nearest")
      in.complain("bundle.record", base::phrase("filter must be linear or nearest."), "filter");
    if (auto pictures = in.object("pictures")) {
      r.base_color_picture = pictures->text("base_color");
      r.metallic_roughness_picture = pictures->text("metallic_roughness");
      r.normal_picture = pictures->text("normal");
      r.occlusion_picture = pictures->text("occlusion");
      r.emissive_picture = pictures->text("emissive");
    }
    r.unlit = in.flag("unlit");
    if (auto lookups = in.object("lookups"))
      for (size_t i = 0; i < kSlotNames.size(); ++i)
        if (auto one = lookups->object(kSlotNames[i])) r.lookups[i] = readLookup(*one);
  });
}

}  // namespace rakugo::bundle
