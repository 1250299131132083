#include "core/logbook/photos.h"

#include <set>

#include "core/base/files.h"
#include "core/base/message.h"
#include "core/logbook/sha256.h"

namespace uadze::logbook {
namespace {

constexpr size_t most_bytes = size_t{64} << 20;

/// By the file's first bytes; empty if it is no picture.
const char* ending_of(const std::string& bytes) {
  if (bytes.starts_with("\xFF\xD8\xFF")) return ".jpg";
  if (bytes.starts_with("\x89PNG\r\n\x1A\n")) return ".png";
  if (bytes.starts_with("RIFF") && bytes.size() > 12 && bytes.compare(8, 4, "WEBP") == 0) return ".webp";
  return "";
}

}  // namespace

std::filesystem::path photo_folder(const std::filesystem::path& book) { return book.string() + ".photos"; }

Photo keep_photo(const std::filesystem::path& book, const std::filesystem::path& file) {
  const std::string bytes = read_file(file, most_bytes);
  const std::string ending = ending_of(bytes);
  if (ending.empty())
    throw InputError(Message{
        .file = file.string(), .expected = "a picture: JPEG, PNG or WebP", .found = "something else"});
  const Photo out{sha256(bytes), file.filename().string()};
  if (!photo_file(book, out)) {
    std::error_code failed;
    std::filesystem::create_directories(photo_folder(book), failed);
    if (failed)
      throw InputError(Message{
          .file = photo_folder(book).string(), .expected = "a folder for photos", .found = failed.message()});
    write_file_atomically(photo_folder(book) / (out.content + ending), bytes);
  }
  return out;
}

std::optional<std::filesystem::path> photo_file(const std::filesystem::path& book, const Photo& photo) {
  // The name in a record comes from outside: only a hash names a file.
  if (!is_sha256(photo.content)) return std::nullopt;
  for (const char* ending : {".jpg", ".png", ".webp"}) {
    const auto file = photo_folder(book) / (photo.content + ending);
    std::error_code ignored;
    if (!std::filesystem::is_regular_file(file, ignored)) continue;
    try {
      if (sha256(read_file(file, most_bytes)) == photo.content) return file;
    } catch (const InputError&) {
    }
  }
  return std::nullopt;
}

std::vector<Photo> missing_photos(const std::filesystem::path& book, const std::vector<Record>& records) {
  std::vector<Photo> out;
  std::set<std::string> asked;
  for (const Record& r : records)
    for (const Photo& p : r.photos)
      if (asked.insert(p.content).second && !photo_file(book, p)) out.push_back(p);
  return out;
}

}  // namespace uadze::logbook
