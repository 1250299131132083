#include "core/log/store.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>

#include "core/log/text.h"

namespace uadze::log {
namespace fs = std::filesystem;
namespace {

constexpr std::uint64_t format_mark = 0x5541445A4C4F4703;  // changed with how it is read and written

/// Numbers and texts in the machine's own order: the files stay on it.
class Out {
 public:
  explicit Out(std::ofstream& to) : to_(to) {}
  template <class T>
  void put(const T& value) {
    static_assert(std::is_trivially_copyable_v<T>);
    if constexpr (std::is_enum_v<T> || std::is_same_v<T, bool>)
      put(static_cast<std::int32_t>(value));
    else
      to_.write(reinterpret_cast<const char*>(&value), sizeof value);
  }
  void put(const std::string& text) {
    put(text.size());
    to_.write(text.data(), static_cast<std::streamsize>(text.size()));
  }
  template <class T>
  void put(const std::vector<T>& values) {
    put(values.size());
    to_.write(reinterpret_cast<const char*>(values.data()),
              static_cast<std::streamsize>(values.size() * sizeof(T)));
  }

 private:
  std::ofstream& to_;
};

struct Broken {};

class In {
 public:
  In(std::ifstream& from, size_t bytes) : from_(from), left_(bytes) {}
  template <class T>
  void get(T& value) {
    static_assert(std::is_trivially_copyable_v<T>);
    if constexpr (std::is_enum_v<T> || std::is_same_v<T, bool>) {
      // What is no value of it is never made one.
      constexpr std::int32_t most = std::is_same_v<T, Role>       ? static_cast<std::int32_t>(Role::ethanol)
                                    : std::is_same_v<T, Severity> ? static_cast<std::int32_t>(Severity::error)
                                                                  : 1;
      std::int32_t n = 0;
      bytes(&n, sizeof n);
      if (n < 0 || n > most) throw Broken{};
      value = static_cast<T>(n);
    } else {
      bytes(&value, sizeof value);
    }
  }
  void get(std::string& text) {
    text.resize(count(1));
    bytes(text.data(), text.size());
  }
  template <class T>
  void get(std::vector<T>& values) {
    values.resize(count(sizeof(T)));
    bytes(values.data(), values.size() * sizeof(T));
  }
  /// How many of `size` bytes follow: no more than the file has left.
  size_t count(size_t size) {
    size_t n = 0;
    get(n);
    if (n > left_ / size) throw Broken{};
    return n;
  }
  size_t left() const { return left_; }

 private:
  void bytes(void* to, size_t n) {
    if (n > left_ || !from_.read(static_cast<char*>(to), static_cast<std::streamsize>(n))) throw Broken{};
    left_ -= n;
  }
  std::ifstream& from_;
  size_t left_;
};

template <class Visit>
void each_field(Visit&& v, LogFile& f, Messages& notes) {
  v(f.encoding);
  Layout& l = f.layout;
  v(l.separator), v(l.style), v(l.header_line), v(l.units_line), v(l.first_row), v(l.header_text),
      v(l.units_text);
  v.list(l.columns, [&](Heading& h) { v(h.name), v(h.unit); });
  double rate = f.mapping.rate.value_or(-1);
  v(rate);
  f.mapping.rate = rate > 0 ? std::optional(rate) : std::nullopt;
  v.list(f.mapping.columns, [&](ColumnUse& c) {
    v(c.column), v(c.role), v(c.unit), v(c.reversed), v(c.against), v(c.sure), v(c.why);
  });
  v.list(notes, [&](Message& m) { v(m.severity), v(m.file), v(m.place), v(m.expected), v(m.found); });
  v(f.log.time), v(f.log.parts), v(f.log.begin);
  v.list(f.log.channels,
         [&](Channel& c) { v(c.name), v(c.unit), v(c.role), v(c.against), v(c.between), v(c.values); });
}

struct Writer {
  Out out;
  template <class T>
  void operator()(T& value) {
    out.put(value);
  }
  template <class T, class Each>
  void list(std::vector<T>& values, Each&& each) {
    out.put(values.size());
    for (T& value : values) each(value);
  }
};

struct Reader {
  In in;
  template <class T>
  void operator()(T& value) {
    in.get(value);
  }
  template <class T, class Each>
  void list(std::vector<T>& values, Each&& each) {
    values.resize(in.count(1));
    for (T& value : values) each(value);
  }
};

/// Of the file's bytes as they lie, piece by piece, and of what decides how they are read.
ContentKey key_of(const fs::path& path, const Mapping* mapping, const std::vector<Signal>& table,
                  Progress* progress) {
  const RawFile file(path);
  const std::string_view all = file.bytes();
  constexpr size_t piece = size_t{16} << 20;
  std::vector<ContentKey> keys((all.size() + piece - 1) / piece);
  tbb::parallel_for(size_t{0}, keys.size(), [&](size_t k) {
    if (progress && progress->cancelled()) return;
    const std::string_view part = all.substr(k * piece, piece);
    keys[k] = content_key(part);
    file.let_go(part);
  });
  if (progress) progress->check();
  KeyMaker key;
  for (const ContentKey& k : keys) key.add(k);
  key.add(mapping != nullptr);
  if (mapping) {
    key.add(mapping->rate.value_or(-1.0));
    for (const ColumnUse& c : mapping->columns)
      key.add(c.column)
          .add(static_cast<int>(c.role))
          .add(c.unit)
          .add(c.reversed)
          .add(static_cast<int>(c.against))
          .add(c.sure)
          .add(c.why);
  }
  for (const Signal& s : table)
    key.add(s.name)
        .add(s.id)
        .add(s.start_bit)
        .add(s.length)
        .add(static_cast<int>(s.order))
        .add(s.negative)
        .add(s.scale)
        .add(s.offset)
        .add(s.unit);
  return key.key();
}

std::optional<Read<LogFile>> kept(const fs::path& file) {
  std::ifstream in(file, std::ios::binary);
  std::error_code none;
  const auto bytes = fs::file_size(file, none);
  if (!in || none) return std::nullopt;
  try {
    Reader reader{In(in, bytes)};
    std::uint64_t mark = 0;
    reader(mark);
    if (mark != format_mark) return std::nullopt;
    Read<LogFile> out;
    each_field(reader, out.value, out.notes);
    const Log& log = out.value.log;
    if (log.size() < 2 || log.parts.empty() || log.parts.front() != 0 ||
        !std::is_sorted(log.parts.begin(), log.parts.end()) || log.parts.back() >= log.size())
      return std::nullopt;
    if (reader.in.left() != 0 || std::any_of(log.channels.begin(), log.channels.end(),
                                             [&](const Channel& c) { return c.values.size() != log.size(); }))
      return std::nullopt;
    fs::last_write_time(file, fs::file_time_type::clock::now(), none);
    return out;
  } catch (const Broken&) {
    return std::nullopt;
  } catch (const std::bad_alloc&) {
    return std::nullopt;
  }
}

/// Beside its place, then over it; nothing is said where the disk will not have it.
void keep(const fs::path& file, Read<LogFile>& read) {
  std::error_code none;
  fs::create_directories(file.parent_path(), none);
  const fs::path beside = file.string() + fmt::format(".{}", ::getpid());
  {
    std::ofstream to(beside, std::ios::binary);
    Writer writer{Out(to)};
    std::uint64_t mark = format_mark;
    writer(mark);
    each_field(writer, read.value, read.notes);
    to.flush();
    if (!to) {
      to.close();
      fs::remove(beside, none);
      return;
    }
  }
  fs::rename(beside, file, none);
  if (none) fs::remove(beside, none);
}

void make_room(const Store& store) {
  std::error_code none;
  std::vector<std::pair<fs::file_time_type, fs::path>> files;
  size_t all = 0;
  for (const auto& entry : fs::directory_iterator(store.folder, none)) {
    if (entry.path().extension() != ".columns") continue;
    files.emplace_back(entry.last_write_time(none), entry.path());
    all += entry.file_size(none);
  }
  std::sort(files.begin(), files.end());
  for (const auto& [when, file] : files) {
    if (all <= store.most_bytes) return;
    all -= std::min(all, static_cast<size_t>(fs::file_size(file, none)));
    fs::remove(file, none);
  }
}

}  // namespace

Read<LogFile> read_log(const fs::path& path, const Store& store, const Mapping* mapping,
                       const std::vector<Signal>& signal_table, Progress* progress) {
  std::error_code none;
  const auto bytes = fs::file_size(path, none);
  if (none || bytes < store.least_bytes) return read_log(path, mapping, signal_table, progress);
  const ContentKey key = key_of(path, mapping, signal_table, progress);
  const fs::path file = store.folder / fmt::format("{:016x}{:016x}.columns", key.high, key.low);
  if (auto known = kept(file)) {
    // The same content under another name.
    for (Message& m : known->notes) m.file = path.string();
    return std::move(*known);
  }
  auto read = read_log(path, mapping, signal_table, progress);
  keep(file, read);
  make_room(store);
  return read;
}

}  // namespace uadze::log
