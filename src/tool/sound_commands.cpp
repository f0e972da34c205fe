// `rakugo-tool piece sound-check`: what is made of a sound of an object.
#include <fmt/core.h>

#include "base/files.h"
#include "base/text.h"
#include "mod/references.h"
#include "prepare/objects/piece_edits.h"
#include "prepare/objects/piece_values.h"
#include "prepare/objects/sound_pieces.h"
#include "rulebook/piece_sorts.h"
#include "tool/command_list.h"
#include "tool/edit_mod.h"

namespace rakugo::tool {
namespace {

using base::Json;

struct SoundOptions {
  std::string mod, object, piece, to;
  bool find = false;
};

// The recording that a piece names, the number-th of its variants.
base::Result<formats::Sound> recordingOf(const OpenMod& open, const std::string& sound) {
  const auto thing = mod::namedThing(sound);
  if (!thing || thing->thing != mod::Thing::source || open.state.sources.count(thing->name) == 0)
    return base::Error{"sound.none",
                       fmt::format("\"{}\" is no sound of the mod.", base::presentable(sound, 60)),
                       {},
                       "What the game shares is made already; name a source: sources/engine."};
  const mod::SourceDoc& doc = open.state.sources.at(thing->name);
  const std::filesystem::path file =
      std::filesystem::path(open.folder) / (mod::versionFolder(thing->name, doc) + doc.file);
  RAKUGO_ASSIGN(const base::Bytes bytes, base::readFile(file));
  return formats::decodeSound(bytes, doc.file);
}

Json reportJson(const prepare::SoundReport& r, const prepare::SoundMaking& how) {
  Json out{{"seconds", r.seconds},     {"loudness_lufs", r.loudness_lufs ? Json(*r.loudness_lufs) : Json()},
           {"raised_db", r.raised_db}, {"held_back", r.held_back},
           {"from_s", how.from_s},     {"to_s", how.to_s}};
  if (how.loop) out["jump"] = r.jump, out["usual_step"] = r.usual, out["clicks"] = r.clicks;
  return out;
}

std::string reportText(const std::string& sound, const prepare::SoundReport& r,
                       const prepare::SoundMaking& how) {
  std::string text = fmt::format("{}: {} s", sound, base::numberText(r.seconds, 3));
  text += r.loudness_lufs
              ? fmt::format(", {} LUFS, changed by {} dB{}\n", base::numberText(*r.loudness_lufs, 1),
                            base::numberText(r.raised_db, 1),
                            r.held_back ? " (no further: its loudest moments would be cut off)" : "")
              : std::string(", silent\n");
  if (how.loop)
    text +=
        fmt::format("  Its end is {} of full scale away from its beginning{}\n", base::numberText(r.jump, 4),
                    r.clicks ? ", and one hears a click." : "; as made, no click is heard.");
  return text;
}

int checkSound(const Common& common, const SoundOptions& o) {
  auto open = openMod(o.mod);
  if (!open) return failed(common, open.error());
  const mod::ModState before = open->state;
  const auto object = named(open->state.objects, o.object, "object", "mod.no_object", o.mod);
  if (!object) return failed(common, object.error());
  const mod::PieceDoc* piece = prepare::findPiece(**object, o.piece);
  if (piece == nullptr || rulebook::pieceSortFrom(piece->sort) != rulebook::PieceSort::sound)
    return failed(common, {"piece.unknown",
                           fmt::format("{} has no sound {}.", o.object, base::presentable(o.piece, 60)),
                           base::Place{o.mod}, "List its pieces: rakugo-tool piece list."});
  const auto says = prepare::soundValues(*piece, prepare::fieldsOfPiece(*open->book, **object, *piece));
  prepare::SoundMaking how = prepare::soundMaking(says, open->book->sounds);
  Json out = Json::array();
  std::string text;
  for (const std::string& one : says.sounds) {
    const auto recording = recordingOf(*open, one);
    if (!recording) return failed(common, recording.error());
    if (o.find && says.sounds.size() == 1) how = prepare::betterLoop(*recording, how);
    const auto made = prepare::makeSound(*recording, how);
    if (!made) return failed(common, made.error());
    Json report = reportJson(made->report, how);
    report["sound"] = one;
    out.push_back(std::move(report));
    text += reportText(one, made->report, how);
    if (o.to.empty()) continue;
    const auto bytes = formats::encodeSound(made->sound, "wav");
    if (!bytes) return failed(common, bytes.error());
    if (const base::Status written = base::writeFileAtomic(o.to, *bytes); !written)
      return failed(common, written.error());
  }
  if (o.find && says.sounds.size() == 1) {
    for (const auto& [id, value] : {std::pair("from_s", how.from_s), {"to_s", how.to_s}})
      if (const base::Status set = prepare::setPieceValue(**object, o.piece, id, value); !set)
        return failed(common, set.error());
    if (const base::Status saved = saveChanges(*open, before); !saved) return failed(common, saved.error());
    text += fmt::format("  It is cut from {} to {} s now.\n", base::numberText(how.from_s, 4),
                        base::numberText(how.to_s, 4));
  }
  return said(common, out, text);
}

}  // namespace

void addSoundCommands(Tool& tool) {
  const auto o = std::make_shared<SoundOptions>();
  CLI::App* group = tool.group("sound", "Sounds of objects");
  CLI::App* sub =
      tool.command("check", "What is made of a sound: its length, loudness, and whether it clicks", group);
  sub->add_option("MOD", o->mod, "The mod's folder")->required();
  sub->add_option("OBJECT", o->object)->required();
  sub->add_option("PIECE", o->piece, "Its name in the object")->required();
  sub->add_flag("--find-loop", o->find,
                "Cut it where its end joins its beginning best, near where it is cut");
  sub->add_option("--to", o->to, "Write it as it is built to this WAV file");
  tool.runs(sub, [o](const Common& common) { return checkSound(common, *o); });
}

}  // namespace rakugo::tool
