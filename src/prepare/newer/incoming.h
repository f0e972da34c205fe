// What is given to be taken in: files, folders and archives, looked at before anything is copied.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "formats/read_model.h"

namespace rakugo::prepare {

/// What a source can be.
enum class SourceSort : unsigned char { model, picture, sound };
/// By the ending of a file's name; nothing for one that is none of them.
std::optional<SourceSort> sourceSortOf(const std::string& file);

/// One thing to take in.
struct Given {
  std::filesystem::path file;
  std::string inside;  ///< its path in the archive `file`; empty for a file of its own
  /// Its name for people: "boat.zip: hull.obj".
  [[nodiscard]] std::string shown() const;
  bool operator==(const Given&) const = default;
};

/// What can be taken of a path. A file is itself; of an archive or a folder (three levels deep, links not
/// followed) the models, the likeliest first, or where there is none the pictures and sounds. Errors: file.*,
/// archive.*, and file.nothing_to_take with what there should be.
base::Result<std::vector<Given>> listGiven(const std::filesystem::path& path,
                                           base::Progress* progress = nullptr);

/// Which of them are taken unless the person says otherwise: of those that are one model in several formats,
/// the format that carries most.
std::vector<bool> likelyChoice(const std::vector<Given>& given);

/// Tells whether what was given has changed: one digest of the file and of those beside it that it names; of
/// an archive, of the archive. Names that are not there count as empty. Errors: file.*.
base::Result<std::string> digestOf(const Given& given, std::vector<std::string> names);

/// When these files were written and how large they are. Cheap, and enough to tell that nothing changed.
std::string stampOf(const Given& given, std::vector<std::string> names);

/// A source read and ready to be copied in.
struct Incoming {
  Given given;
  SourceSort sort = SourceSort::model;
  std::string digest, stamp;                 ///< of what was given, as `digestOf` and `stampOf` make them
  std::string name;                          ///< of the model's, picture's or sound's own file
  base::Bytes bytes;                         ///< and its content
  std::map<std::string, base::Bytes> files;  ///< that it names, by those names
  std::shared_ptr<const formats::ReadModel> read;  ///< of a model; else null
  std::vector<std::string> others;                 ///< models of the archive beside it
};

/// Reads what is given, of an archive without `inside` its likeliest model. Thread-safe. Errors: those of the
/// readers of models, pictures, sounds and archives.
base::Result<Incoming> readIncoming(const Given& given, base::Progress* progress = nullptr);

}  // namespace rakugo::prepare
