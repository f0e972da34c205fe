#include "prepare/naming.h"

#include "prepare/step.h"

namespace rakugo::prepare {

mod::NamingValues namingValues(const rulebook::Rulebook& book) {
  return {
      [&book](const std::string& kind, const std::string& field) { return book.namesThings(kind, field); },
      namesModel};
}

}  // namespace rakugo::prepare
