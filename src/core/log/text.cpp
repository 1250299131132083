#include "core/log/text.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>
#include <zlib.h>

#include <cerrno>
#include <cstdint>
#include <cstring>

#include "core/base/message.h"

namespace uadze::log {
namespace {

[[noreturn]] void fail(const std::string& file, std::string expected, std::string found) {
  throw InputError(
      Message{.file = file, .place = {}, .expected = std::move(expected), .found = std::move(found)});
}

bool is_gzip(std::string_view bytes) { return bytes.starts_with("\x1F\x8B"); }

std::string unpacked(std::string_view bytes, Progress* progress) {
  z_stream stream{};
  if (inflateInit2(&stream, 16 + MAX_WBITS) != Z_OK) fail("", "memory to unpack the file", "none");
  struct End {
    z_stream* stream;
    ~End() { inflateEnd(stream); }
  } const end{&stream};
  std::string out;
  size_t given = 0;
  const auto feed = [&] {
    const size_t part = std::min<size_t>(bytes.size() - given, size_t{1} << 30);
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(bytes.data() + given));
    stream.avail_in = static_cast<uInt>(part);
    given += part;
  };
  feed();
  std::string block(size_t{1} << 20, '\0');
  for (;;) {
    if (progress) progress->check();
    stream.next_out = reinterpret_cast<Bytef*>(block.data());
    stream.avail_out = static_cast<uInt>(block.size());
    const int state = inflate(&stream, Z_NO_FLUSH);
    out.append(block.data(), block.size() - stream.avail_out);
    if (out.size() > most_log_bytes) fail("", "at most 4 GB of text", "a gzip file that unpacks to more");
    if (stream.avail_in == 0 && given < bytes.size()) feed();
    if (state == Z_STREAM_END) {
      // Files that were joined packed.
      if (stream.avail_in == 0) return out;
      inflateReset(&stream);
      continue;
    }
    if (state != Z_OK && state != Z_BUF_ERROR) fail("", "a whole gzip file", "one that is broken");
    if (state == Z_BUF_ERROR && stream.avail_in == 0) fail("", "a whole gzip file", "one that breaks off");
  }
}

void append_utf8(std::string& out, std::uint32_t c) {
  const auto byte = [&](std::uint32_t value) { out += static_cast<char>(value); };
  if (c < 0x80)
    byte(c);
  else if (c < 0x800)
    byte(0xC0 | c >> 6), byte(0x80 | (c & 0x3F));
  else if (c < 0x10000)
    byte(0xE0 | c >> 12), byte(0x80 | (c >> 6 & 0x3F)), byte(0x80 | (c & 0x3F));
  else
    byte(0xF0 | c >> 18), byte(0x80 | (c >> 12 & 0x3F)), byte(0x80 | (c >> 6 & 0x3F)),
        byte(0x80 | (c & 0x3F));
}

std::string from_utf16(std::string_view bytes, bool big) {
  std::string out;
  out.reserve(bytes.size() / 2);
  const auto unit = [&](size_t i) {
    const auto a = static_cast<std::uint8_t>(bytes[i]), b = static_cast<std::uint8_t>(bytes[i + 1]);
    return static_cast<std::uint32_t>(big ? a << 8 | b : b << 8 | a);
  };
  for (size_t i = 0; i + 1 < bytes.size(); i += 2) {
    std::uint32_t c = unit(i);
    if (c >= 0xD800 && c < 0xDC00 && i + 3 < bytes.size()) {
      const std::uint32_t low = unit(i + 2);
      if (low >= 0xDC00 && low < 0xE000) c = 0x10000 + ((c - 0xD800) << 10) + (low - 0xDC00), i += 2;
    }
    append_utf8(out, c);
  }
  return out;
}

std::string from_latin1(std::string_view bytes) {
  std::string out;
  out.reserve(bytes.size() + bytes.size() / 16);
  for (char c : bytes) append_utf8(out, static_cast<std::uint8_t>(c));
  return out;
}

/// Whether the bytes are UTF-8; a letter that the end cuts in two is no fault.
bool is_utf8(std::string_view bytes) {
  for (size_t i = 0; i < bytes.size();) {
    const auto c = static_cast<std::uint8_t>(bytes[i]);
    const size_t more = c < 0x80                ? 0
                        : c >= 0xC2 && c < 0xE0 ? 1
                        : c >= 0xE0 && c < 0xF0 ? 2
                        : c >= 0xF0 && c < 0xF5 ? 3
                                                : 9;
    if (more == 9) return false;
    for (size_t k = 1; k <= more; ++k) {
      if (i + k >= bytes.size()) return true;
      if ((static_cast<std::uint8_t>(bytes[i + k]) & 0xC0) != 0x80) return false;
    }
    i += more + 1;
  }
  return true;
}

enum class Encoding { utf8, utf8_mark, utf16_little, utf16_big, latin1 };

/// `seen(piece)` after each piece that was looked at.
template <class Seen>
Encoding encoding_of(std::string_view bytes, Seen&& seen) {
  if (bytes.starts_with("\xEF\xBB\xBF")) return Encoding::utf8_mark;
  if (bytes.starts_with("\xFF\xFE")) return Encoding::utf16_little;
  if (bytes.starts_with("\xFE\xFF")) return Encoding::utf16_big;
  // Without a mark: nearly every other byte of a table in UTF-16 is nothing.
  const std::string_view head = bytes.substr(0, 4096);
  size_t even = 0, odd = 0;
  for (size_t i = 0; i < head.size(); ++i) (i % 2 ? odd : even) += head[i] == 0;
  if (odd > head.size() / 4 && odd > 4 * even) return Encoding::utf16_little;
  if (even > head.size() / 4 && even > 4 * odd) return Encoding::utf16_big;
  for (size_t at = 0; at < bytes.size();) {
    size_t end = std::min(at + (size_t{16} << 20), bytes.size());
    // Not within a letter.
    while (end < bytes.size() && end > at + 1 && (static_cast<std::uint8_t>(bytes[end]) & 0xC0) == 0x80)
      --end;
    const std::string_view piece = bytes.substr(at, end - at);
    if (!is_utf8(piece)) return Encoding::latin1;
    seen(piece);
    at = end;
  }
  return Encoding::utf8;
}

const char* name_of(Encoding encoding) {
  switch (encoding) {
    case Encoding::utf8:
    case Encoding::utf8_mark:
      return "UTF-8";
    case Encoding::utf16_little:
    case Encoding::utf16_big:
      return "UTF-16";
    case Encoding::latin1:
      return "Latin-1";
  }
  return "";
}

}  // namespace

Decoded decoded(std::string bytes, Progress* progress) {
  std::string packed;
  if (is_gzip(bytes)) {
    bytes = unpacked(bytes, progress);
    packed = "gzip, ";
  }
  const Encoding encoding = encoding_of(bytes, [](std::string_view) {});
  Decoded out{{}, packed + name_of(encoding)};
  switch (encoding) {
    case Encoding::utf8:
      out.text = std::move(bytes);
      break;
    case Encoding::utf8_mark:
      out.text = bytes.erase(0, 3);
      break;
    case Encoding::utf16_little:
    case Encoding::utf16_big: {
      const std::string_view all = bytes;
      const bool mark = all.starts_with("\xFF\xFE") || all.starts_with("\xFE\xFF");
      out.text = from_utf16(all.substr(mark ? 2 : 0), encoding == Encoding::utf16_big);
      break;
    }
    case Encoding::latin1:
      out.text = from_latin1(bytes);
      break;
  }
  return out;
}

RawFile::RawFile(const std::filesystem::path& path) {
  const std::string name = path.string();
  const auto because = [&](const char* what) {
    fail(name, "", std::string(what) + ": " + std::strerror(errno));
  };
  const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  if (handle < 0) because("can not be read");
  struct Close {
    int handle;
    ~Close() { ::close(handle); }
  } const close{handle};
  struct stat about {};
  if (::fstat(handle, &about) != 0) because("can not be read");
  if (!S_ISREG(about.st_mode)) fail(name, "a regular file", "something else");
  bytes_ = static_cast<size_t>(about.st_size);
  if (bytes_ > most_log_bytes) fail(name, "a file of 4 GB at most", std::to_string(bytes_ >> 20) + " MB");
  if (bytes_ == 0) return;
  mapped_ = ::mmap(nullptr, bytes_, PROT_READ, MAP_PRIVATE, handle, 0);
  if (mapped_ == MAP_FAILED) {
    mapped_ = nullptr;
    because("can not be read");
  }
}

RawFile::~RawFile() {
  if (mapped_) ::munmap(mapped_, bytes_);
}

void RawFile::let_go(std::string_view piece) const {
  const auto page = static_cast<std::uintptr_t>(::sysconf(_SC_PAGESIZE));
  const auto begin = (reinterpret_cast<std::uintptr_t>(piece.data()) + page - 1) / page * page,
             end = reinterpret_cast<std::uintptr_t>(piece.data() + piece.size()) / page * page;
  if (end > begin) ::madvise(reinterpret_cast<void*>(begin), end - begin, MADV_DONTNEED);
}

TextFile::TextFile(const std::filesystem::path& path, Progress* progress)
    : name_(path.string()), encoding_("UTF-8") {
  raw_.emplace(path);
  const std::string_view all = raw_->bytes();
  if (all.empty()) return;
  if (!is_gzip(all) &&
      encoding_of(all, [&](std::string_view piece) { raw_->let_go(piece); }) == Encoding::utf8) {
    text_ = all;
    return;
  }
  try {
    Decoded decoded = log::decoded(std::string(all), progress);
    own_ = std::move(decoded.text);
    encoding_ = std::move(decoded.encoding);
  } catch (const InputError& error) {
    Messages named = error.messages();
    for (Message& m : named) m.file = name_;
    throw InputError(named);
  }
  raw_.reset();
  text_ = own_;
}

void TextFile::let_go(std::string_view piece) const {
  if (raw_) raw_->let_go(piece);
}

}  // namespace uadze::log
