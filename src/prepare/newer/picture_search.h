// Pictures that a source names and does not bring: looked for where it came from.
#pragma once

#include "mod/origins.h"
#include "prepare/newer/incoming.h"

namespace rakugo::prepare {

/// How a file that was found is called, beside the name that was looked for. In the order of their worth.
enum class Likeness : unsigned char { same_name, letter_case, other_ending, alike };

struct FoundPicture {
  Given from;
  Likeness likeness = Likeness::same_name;
  std::string shown;  ///< where it is, for people: "boat.zip: textures/oak.png", "../textures/oak.png"
};

/// Looks for a picture by the name that a model has for it: in the archive the source is from, in the folder
/// it is from and below it, and in the folders beside that one; at most three levels and some thousand files.
/// The best first, at most eight. Cost: reads the folders and decompresses the archive. Nothing is found for
/// an empty name.
std::vector<FoundPicture> findPictures(const std::string& wanted, const mod::Origin& origin,
                                       const base::Progress* progress = nullptr);

/// How `file` is called beside `wanted`, by their last names; nothing when they have nothing in common or
/// `file` is no picture.
std::optional<Likeness> likenessOf(const std::string& file, const std::string& wanted);

/// The bytes of a file that was found. Errors: file.*, archive.*.
base::Result<base::Bytes> readGiven(const Given& given);

}  // namespace rakugo::prepare
