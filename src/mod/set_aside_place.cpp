#include "mod/set_aside_place.h"

namespace rakugo::mod {

std::string placeText(const SetAsidePlace& p) {
  std::string out;
  for (const std::string* field :
       {&p.document, &p.model, &p.object, &p.source, &p.part, &p.material, &p.field, &p.point})
    out += *field + "|";
  if (!p.step.empty()) out += p.step + "|";
  return out;
}

SetAsidePlace placeFrom(std::string_view text) {
  SetAsidePlace p;
  for (std::string* field :
       {&p.document, &p.model, &p.object, &p.source, &p.part, &p.material, &p.field, &p.point, &p.step}) {
    const size_t end = text.find('|');
    *field = std::string(text.substr(0, end));
    if (end == std::string_view::npos) break;
    text.remove_prefix(end + 1);
  }
  return p;
}

}  // namespace rakugo::mod
