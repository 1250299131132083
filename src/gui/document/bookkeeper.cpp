#include "gui/document/bookkeeper.h"

#include <algorithm>

#include "core/logbook/photos.h"
#include "core/project/keys.h"

namespace uadze::gui {
namespace {

constexpr int look_every = 2000;  // ms
constexpr Moment minute = 60;

bool says_the_same(const solve::InGarage& a, const solve::InGarage& b) {
  const auto states = [](const solve::InGarage& in) {
    std::vector<std::pair<int, std::string>> out;
    for (const auto& g : in.gates) out.emplace_back(static_cast<int>(g.state), g.due);
    for (const auto& d : in.due) out.emplace_back(static_cast<int>(d.state), d.day);
    return out;
  };
  return states(a) == states(b) && a.readiness.open == b.readiness.open;
}

}  // namespace

Bookkeeper::Bookkeeper(Document& document, const Selection& selection, const Runs& runs, QObject* parent)
    : QObject(parent), document_(document), selection_(selection), runs_(runs) {
  connect(&document_, &Document::replaced, this, &Bookkeeper::open);
  connect(&document_, &Document::file_changed, this, [this] {
    if (!book_ || book_->file() != file()) open();
  });
  connect(&document_, &Document::changed, this, &Bookkeeper::compute);
  connect(&selection_, &Selection::changed, this, &Bookkeeper::compute);
  connect(&timer_, &QTimer::timeout, this, &Bookkeeper::look);
  timer_.start(look_every);
}

std::filesystem::path Bookkeeper::file() const {
  return document_.path().isEmpty() ? std::filesystem::path()
                                    : logbook::book_of(document_.path().toStdString());
}

QString Bookkeeper::no_writing() const {
  if (document_.path().isEmpty()) return "Save the project first: its book lies beside it.";
  if (!trouble_.isEmpty()) return trouble_;
  if (book_ && !book_->read_only_because().empty())
    return "Nothing can be written: " + QString::fromStdString(book_->read_only_because()) + ".";
  return {};
}

void Bookkeeper::open() {
  book_.reset();
  records_.clear();
  trouble_.clear(), broken_ = false;
  said_.clear();
  garage_.reset();
  const auto where = file();
  std::error_code ignored;
  if (!where.empty() && std::filesystem::exists(where, ignored)) {
    try {
      book_ = logbook::Book::open(where, {.make = false, .wait = std::chrono::milliseconds(2000)});
      records_ = book_->all();
      try {
        book_->keep_copy();
      } catch (const InputError&) {
        // The copy is a second rope: without room for it the book itself still counts.
      }
    } catch (const logbook::BrokenBook& error) {
      trouble_ = QString("The book is broken. %1").arg(error.what());
      broken_ = true;
    } catch (const InputError& error) {
      trouble_ = QString("The book can not be read. %1").arg(error.what());
    }
  }
  compute();
  emit changed();
}

void Bookkeeper::look() {
  try {
    std::error_code ignored;
    if (!book_ && trouble_.isEmpty() && !file().empty() && std::filesystem::exists(file(), ignored))
      return open();
    if (book_ && book_->size() > static_cast<std::int64_t>(records_.size())) {
      for (auto& r : book_->since(static_cast<std::int64_t>(records_.size()) + 1))
        records_.push_back(std::move(r));
      compute();
    }
  } catch (const InputError& error) {
    trouble_ = error.what();
    emit changed();
    return;
  }
  compute();
  if (!garage_) return;
  for (const auto& s : garage_->gates)
    if (s.begun && at() >= s.over_at &&
        std::find(said_.begin(), said_.end(), s.begun->number) == said_.end()) {
      said_.push_back(s.begun->number);
      emit reminded(QString("%1 of \"%2\": its hours are over. Look, and write what was found (Logbook).")
                        .arg(QString::fromStdString(s.gate.title), QString::fromStdString(garage_of_)));
    }
}

void Bookkeeper::compute() {
  const project::Setup* setup = selection_.setup();
  const auto catalogue = runs_.catalogue();
  if (!setup || !setup->circuit || !catalogue) {
    job_.cancel();
    if (garage_) {
      garage_.reset();
      emit changed();
    }
    return;
  }
  // Of all that decides it; a minute later the clock does too.
  KeyMaker maker;
  maker.add(project::key_of(*setup)).add(static_cast<std::int64_t>(records_.size()));
  for (const auto& s : document_.project().stock) maker.add(s.what).add(s.size).add(s.have).add(s.ordered);
  for (const auto& s : document_.project().own_steps) {
    maker.add(s.setup).add(s.title).add(s.after).add(s.minutes);
    for (const auto& h : s.how) maker.add(h);
  }
  for (const auto& s : document_.project().step_changes) {
    maker.add(s.setup).add(s.step).add(s.after).add(s.minutes.value_or(-1));
    for (const auto& h : s.also) maker.add(h);
  }
  const build::Scheme& scheme = document_.project().scheme;
  maker.add(scheme.feed).add(scheme.ground).add(scheme.coil).add(static_cast<int>(scheme.joint));
  const ContentKey content = maker.key(), key = KeyMaker().add(content).add(at() / minute).key();
  if (key == garage_key_ && (garage_ || job_.running() || key == failed_key_)) return;
  // Where only the clock has moved, what is shown is renewed only if it says something else: a table that is
  // typed into must not be filled anew each minute.
  const bool by_clock = content == content_key_ && garage_;
  content_key_ = content;
  garage_key_ = key;
  if (garage_of_ != setup->name) garage_.reset(), garage_of_ = setup->name;
  job_.start(
      this,
      [project = document_.project(), name = setup->name, catalogue, records = records_,
       at = at()](Progress&) -> std::shared_ptr<const solve::InGarage> {
        return std::make_shared<const solve::InGarage>(
            solve::in_garage(project, *project.find_setup(name), catalogue, records, at));
      },
      [this, by_clock](std::shared_ptr<const solve::InGarage> in) {
        const bool as_before = by_clock && garage_ && says_the_same(*garage_, *in);
        garage_ = std::move(in);
        if (!as_before) emit changed();
      },
      [this, key](const QString&) {
        // A circuit with faults says them at its own station.
        failed_key_ = key;
        if (!garage_) return;
        garage_.reset();
        emit changed();
      });
}

const solve::InGarage* Bookkeeper::garage() const { return garage_.get(); }
const logbook::Readiness* Bookkeeper::readiness() const { return garage_ ? &garage_->readiness : nullptr; }

solve::ReadyBySetup Bookkeeper::ready_by_setup() const {
  const auto catalogue = runs_.catalogue();
  if (!catalogue) return {};
  try {
    return solve::ready_by_setup(document_.project(), catalogue, records_, at());
  } catch (const InputError&) {
    return {};
  }
}

QStringList Bookkeeper::overdue_before_sessions() const {
  QStringList out;
  if (!garage_) return out;
  std::vector<logbook::Due> before = garage_->due;
  const auto lap = runs_.lap();
  for (const auto& s : document_.project().sessions) {
    auto after = logbook::after_running(before, solve::planned_running(s, lap ? lap->value.duration() : 0.0),
                                        day_of(at()));
    for (size_t k = 0; k < after.size(); ++k)
      if (after[k].state == logbook::DueState::overdue && before[k].state != logbook::DueState::overdue)
        out << QString("%1 is overdue before the end of %2.")
                   .arg(QString::fromStdString(after[k].what), QString::fromStdString(s.name));
    before = std::move(after);
  }
  return out;
}

std::optional<logbook::Record> Bookkeeper::written(
    const std::function<logbook::Record(logbook::Book&)>& doing) {
  if (const QString why = no_writing(); !why.isEmpty()) {
    emit document_.refused(why);
    return std::nullopt;
  }
  try {
    if (!book_) book_ = logbook::Book::open(file(), {.wait = std::chrono::milliseconds(4000)});
    const logbook::Record out = doing(*book_);
    for (auto& r : book_->since(static_cast<std::int64_t>(records_.size()) + 1))
      records_.push_back(std::move(r));
    compute();
    emit changed();
    return out;
  } catch (const InputError& error) {
    emit document_.refused(error.what());
    return std::nullopt;
  }
}

std::optional<logbook::Record> Bookkeeper::write(logbook::Record record) {
  return written([&](logbook::Book& book) { return book.append(record, at()); });
}

std::optional<logbook::Record> Bookkeeper::amend(std::int64_t number, logbook::Record changed) {
  return written([&](logbook::Book& book) { return book.amend(number, changed, at()); });
}

std::optional<logbook::Photo> Bookkeeper::keep(const QString& picture) {
  if (const QString why = no_writing(); !why.isEmpty()) {
    emit document_.refused(why);
    return std::nullopt;
  }
  try {
    return logbook::keep_photo(file(), picture.toStdString());
  } catch (const InputError& error) {
    emit document_.refused(error.what());
    return std::nullopt;
  }
}

std::vector<std::int64_t> Bookkeeper::search(const QString& words) const {
  if (!book_) return {};
  try {
    return book_->search(words.toStdString());
  } catch (const InputError& error) {
    emit document_.refused(error.what());
    return {};
  }
}

void Bookkeeper::rescue() {
  try {
    const auto where = file();
    const std::filesystem::path saved = where.string() + ".saved";
    std::filesystem::path aside = where.string() + ".broken";
    for (int k = 2; std::filesystem::exists(aside); ++k)
      aside = where.string() + ".broken-" + std::to_string(k);
    logbook::rescue(where, saved);
    std::filesystem::rename(where, aside);
    std::filesystem::rename(saved, where);
  } catch (const std::exception& error) {
    emit document_.refused(error.what());
    return;
  }
  open();
}

}  // namespace uadze::gui
