// SPDX-License-Identifier: GPL-3.0-or-later
// Whether what was proved or loaded is still the design of now.
#pragma once

#include "core/model/proof_notes.hpp"
#include "core/session/session.hpp"

#include <memory>
#include <string>

namespace kp::app {

/// The digest of a session's netlist, worked out once for each netlist: pages ask for it at every edit.
class DesignDigest {
public:
    const std::string& of(const Session& session) {
        if (const auto& world = session.deriver().world(); world != of_) {
            of_ = world;
            digest_ = digest_of_netlist(world->netlist);
        }
        return digest_;
    }
    [[nodiscard]] ProofState state(const Session& session) {
        return {digest_of_pegs(session.project().pegs), of(session)};
    }

private:
    std::shared_ptr<const World> of_;
    std::string digest_;
};

}  // namespace kp::app
