#pragma once
// Content keys of described values: every field that is described decides, but free notes.
//
// Example:
//   using namespace uadze;
//   project::Setup a, b;
//   a.notes = "wet tyres";
//   EXPECT_EQ(project::key_of(a), project::key_of(b));
//   b.line_hold = 1e-3;
//   EXPECT_NE(project::key_of(a), project::key_of(b));
#include "core/base/content_key.h"
#include "core/project/project.h"

namespace uadze::project {

ContentKey key_of(const Setup& setup);
ContentKey key_of(const tank::TankParts& tank);
ContentKey key_of(const LapReference& lap);
ContentKey key_of(const session::Session& session);

}  // namespace uadze::project
