// A source exported anew: what differs, and how a preparation follows.
#pragma once

#include <string>
#include <vector>

#include "mod/documents.h"
#include "prepare/parameter.h"
#include "scene/model.h"

namespace rakugo::prepare {

/// Something that has another name now: most likely the same, by shape and place.
struct Renamed {
  std::string from, to;  ///< keys
  double likeness = 0;   ///< 0..1; 1 for one that differs in nothing but its name
};

/// What is told apart between two models of one source.
struct NewerDifference {
  scene::Counts was, is;
  std::vector<std::string> parts_gone, parts_new;          ///< keys; renamed ones are in neither
  std::vector<std::string> bones_gone, bones_new;          ///< names
  std::vector<std::string> materials_gone, materials_new;  ///< keys
  std::vector<std::string> parts_changed;                  ///< keys of parts whose mesh is another one
  std::vector<Renamed> parts, bones, materials;  ///< likeliest pairs of those that were gone and new
  size_t animations_was = 0, animations_is = 0;
  /// Nothing at all: what was exported is the same model.
  [[nodiscard]] bool none() const;
  /// One sentence each, the most telling first.
  [[nodiscard]] std::vector<std::string> sentences() const;
};

/// Compares two models as read. A gone part and a new one are a pair when their triangles, sizes and places
/// are alike by more than 0.6 of 1; each part is in one pair at most, the likeliest first. Bones are paired
/// by where they stand among all bones, their names and their place in the tree; materials by colour, picture
/// and name.
NewerDifference differenceOf(const scene::Model& was, const scene::Model& is);

/// A step that names something which the newer model does not have.
struct Misfit {
  std::string step;      ///< its id
  std::string sentence;  ///< of the step, as it stands
  std::string missing;   ///< key
  std::string proposal;  ///< key of the likeliest; empty when nothing is alike
  double likeness = 0;
  Reference what = Reference::part;
};

/// What of a preparation no longer fits. Every reference of every step is looked at, by the rows of the table
/// of steps: parts, bones and materials, those inside of picks too. Keys that start with one that is called
/// otherwise now (pieces that a step splits off) have a proposal with the same end. What an earlier step
/// makes or names, and neither source has, is no misfit.
std::vector<Misfit> misfitsOf(const mod::ModelDoc& doc, const scene::Model& is,
                              const NewerDifference& difference);

/// Lets the steps name the proposals instead. Only references that `misfits` lists are changed.
void follow(mod::ModelDoc& doc, const std::vector<Misfit>& misfits);

}  // namespace rakugo::prepare
