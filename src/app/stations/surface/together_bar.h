// What is done to several materials at once.
#pragma once

#include <QWidget>
#include <functional>
#include <set>
#include <string>

#include "app/shell/session.h"

namespace rakugo::app {

class AtlasPanel;

/// A bar for the materials whose keys are in `chosen`: a role for all of them, merging, making plain; each is
/// one edit. Null where fewer than two of them are worn; keys that are not leave `chosen`. `noneAsked` is
/// called when none shall be chosen any more.
QWidget* togetherBar(Session& session, const check::ModelState& state, std::set<std::string>& chosen,
                     AtlasPanel& atlas, const std::function<void()>& noneAsked, QWidget* parent);

}  // namespace rakugo::app
