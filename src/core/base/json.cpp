#include "core/base/json.h"

namespace uadze {

template <class Json>
Json json_of(std::string_view text, const typename Json::parser_callback_t& watch) {
  return Json::parse(text, watch);
}

template <class Json>
Json json_or_none(std::string_view text) {
  return Json::parse(text, nullptr, false);
}

template nlohmann::json json_of(std::string_view, const nlohmann::json::parser_callback_t&);
template nlohmann::json json_or_none(std::string_view);
template nlohmann::ordered_json json_of(std::string_view, const nlohmann::ordered_json::parser_callback_t&);
template nlohmann::ordered_json json_or_none(std::string_view);

}  // namespace uadze
