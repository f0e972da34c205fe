// What the harbour asks of an object, whatever an editor's rulebook said.
#pragma once

#include <string>
#include <vector>

namespace rakugo::standin {
struct LoadedThing;

/// What the game says about an object.
struct Complaint {
  bool refused;         ///< the game does not take the object; else it takes it and says this
  const char* event;    ///< of the log line: "refused", "dark", "adrift", ...
  std::string field;    ///< of the object's card or record; empty where none is meant
  std::string message;  ///< one sentence for people
};

/// The lamps, emitters, shapes, sounds and moving parts that the harbour knows on things of a kind, and the
/// moments in which they are lit, run or are heard.
const std::vector<std::string>& harbourLamps(const std::string& kind);
const std::vector<std::string>& harbourEmitters(const std::string& kind);
const std::vector<std::string>& harbourShapes(const std::string& kind);
const std::vector<std::string>& harbourSounds(const std::string& kind);
const std::vector<std::string>& harbourMotions(const std::string& kind);
const std::vector<std::string>& harbourMoments();

/// What a model of a fitting or pier block is called that a keeper holds in the arms, and no more of it than
/// arms hold.
inline constexpr const char* kCarried = "carried";
inline constexpr unsigned kMostCarriedTriangles = 2000, kMostCarriedVertices = 4000;

/// All complaints about `object`. A refusal is the only one: the game looks no further.
std::vector<Complaint> complaintsOf(const LoadedThing& object);

}  // namespace rakugo::standin
