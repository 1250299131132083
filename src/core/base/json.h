#pragma once
// JSON text to values, of the library's two kinds (nlohmann::json, whose keys are sorted, and ordered_json).
// The library's parser is compiled here alone: each source that calls it itself costs the compiler three
// seconds.
//
// Example:
//   const auto lap = json_of<nlohmann::json>(R"({"name": "Tollgate", "length_m": 5793})");
//   EXPECT_EQ(lap["length_m"].get<double>(), 5793);
//   EXPECT_TRUE(json_or_none<nlohmann::json>("{\"name\":").is_discarded());
#include <nlohmann/json.hpp>
#include <string_view>

namespace uadze {

/// `watch`: called as the text is read, as the library has it. Throws its errors: `parse_error` where the
/// text is no JSON, `out_of_range` where a number is beyond a double.
template <class Json>
Json json_of(std::string_view text, const typename Json::parser_callback_t& watch = nullptr);

/// Discarded (`is_discarded()`) where the text is no JSON.
template <class Json>
Json json_or_none(std::string_view text);

extern template nlohmann::json json_of(std::string_view, const nlohmann::json::parser_callback_t&);
extern template nlohmann::json json_or_none(std::string_view);
extern template nlohmann::ordered_json json_of(std::string_view,
                                               const nlohmann::ordered_json::parser_callback_t&);
extern template nlohmann::ordered_json json_or_none(std::string_view);

}  // namespace uadze
