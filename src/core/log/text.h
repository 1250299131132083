#pragma once
// The text of a log file, whatever it was written as: UTF-8 or UTF-16 with or without a byte-order mark,
// Latin-1, and any of them packed by gzip.
//
// Example:
//   EXPECT_EQ(log::decoded("Zeit;\xD6l\n").text, "Zeit;Öl\n");                       // Latin-1
//   EXPECT_EQ(log::decoded(std::string("\xFF\xFEt\0\n\0", 6)).text, "t\n");          // UTF-16
//   EXPECT_EQ(log::decoded(std::string("\xFF\xFEt\0\n\0", 6)).encoding, "UTF-16");
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/progress.h"

namespace uadze::log {

/// Bytes that a log may have, packed or not.
inline constexpr size_t most_log_bytes = size_t{4} << 30;

struct Decoded {
  std::string text;      ///< UTF-8
  std::string encoding;  ///< "UTF-8", "UTF-16", "Latin-1"; "gzip, " before it where it was packed
};

/// Bytes of a file as UTF-8. Throws InputError (without a file's name) for a gzip file that breaks off.
Decoded decoded(std::string bytes, Progress* progress = nullptr);

/// A file's bytes, mapped into memory as they lie on the disk.
class RawFile {
 public:
  /// Throws InputError that names the file where it can not be read, is no regular file or too large.
  explicit RawFile(const std::filesystem::path& path);
  ~RawFile();
  RawFile(const RawFile&) = delete;
  std::string_view bytes() const { return {static_cast<const char*>(mapped_), bytes_}; }
  /// A piece of them that will not be looked at again soon: its memory is given back to the system.
  void let_go(std::string_view piece) const;

 private:
  void* mapped_ = nullptr;
  size_t bytes_ = 0;
};

/// A file's text, mapped into memory as it lies on the disk where it needs no decoding. The text is what the
/// file held when it was opened: what is written behind it meanwhile is not seen.
class TextFile {
 public:
  /// Throws InputError that names the file where it can not be read, is no regular file or too large.
  explicit TextFile(const std::filesystem::path& path, Progress* progress = nullptr);
  std::string_view text() const { return text_; }
  /// As RawFile's, of the text.
  void let_go(std::string_view piece) const;
  const std::string& encoding() const { return encoding_; }
  const std::string& name() const { return name_; }

 private:
  std::string name_, own_, encoding_;
  std::string_view text_;
  std::optional<RawFile> raw_;
};

}  // namespace uadze::log
