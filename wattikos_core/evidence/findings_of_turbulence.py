"""What gives reason to doubt about laminar and turbulent flow: the regime chosen, and how walls are gridded for it."""

from __future__ import annotations

from collections.abc import Sequence

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import HeatedDuct, ImpingingJet
from wattikos_core.evidence.disagreements import ORDER_OF_FLOW
from wattikos_core.evidence.finding import Finding, Fix, refine
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.quantities.values import show
from wattikos_core.section import PaintedSection
from wattikos_core.section.regimes import Regime, follows_layers

# First cells from here on are no more in the layer next to walls that viscosity rules, and up to there not yet in the logarithmic
# range; beyond the last they are out of it in most equipment (common practice, no source).
_RESOLVED, _LOGARITHMIC, _FAR = 2.5, 25.0, 300.0
# Where a layer turns turbulent is decided within it.
_FOLLOWED = 1.5
# Colebrook (1939) and Moody (1944) go as far as to this share of the diameter.
_FILLS = 0.05


def findings_of_regimes(resolved: ResolvedCase, section: PaintedSection, streams: Sequence[Regime]) -> list[Finding]:
    """Which streams are modelled as turbulent, and whether that is as their Reynolds numbers have it."""
    found = []
    wanted = resolved.case.physics.flow
    for regime in streams:
        for part in regime.parts:
            text = f"{_number(regime)} in '{part}'"
            if regime.turbulent and regime.number < regime.critical:
                text += f" is below {regime.critical:,.0f}: hardly turbulent"
                fix = Fix("choose by the number", path="physics.flow", value="automatic")
                found.append(Finding("check", part, text, "let the flow be laminar, or choose automatically", ORDER_OF_FLOW, fix))
            elif wanted == "automatic":
                chosen = "turbulent: k-ω shear stress transport" if regime.turbulent else "laminar"
                above = "above" if regime.number > regime.critical else "below"
                text += f" is {above} {regime.critical:,.0f}: solved as {chosen}"
                found.append(Finding("note", part, text, "choose it yourself where you know better", ORDER_OF_FLOW))
    return found


def findings_of_transition(resolved: ResolvedCase, streams: Sequence[Regime]) -> list[Finding]:
    """Streams past bodies whose layers would be laminar at first: whether they are."""
    physics, found = resolved.case.physics, []
    followed = follows_layers(resolved, streams)
    for regime in streams:
        if not regime.laminar_at_first or physics.transition == "followed" or (physics.regime == "time" and not followed):
            continue
        if followed:
            text = f"{_number(regime)}: layers on it are laminar at first, and are followed until they turn turbulent"
            fix = Fix("turbulent all along", path="physics.transition", value="throughout")
            remedy = "take them for turbulent all along where something trips them"
        else:
            text = f"{_number(regime)}: layers on it are laminar at first, and are taken for turbulent all along"
            fix = Fix("follow them", path="physics.transition", value="followed")
            remedy = "let wall layers be laminar at first, and resolve them"
        found.append(Finding("note", regime.parts[0], text, remedy, ORDER_OF_FLOW, fix))
    return found


def findings_of_roughness(resolved: ResolvedCase, section: PaintedSection, streams: Sequence[Regime]) -> list[Finding]:
    """Roughness that does nothing, since the stream beside it is laminar, or that fills much of its stream."""
    found = []
    stirred = {part: regime for regime in streams if regime.turbulent for part in regime.parts}
    for name, boundary in section.boundaries.items():
        roughness = resolved.roughness(name)
        beside = [part for part in boundary.parts if section.fluid[section.names.index(part)]]
        if roughness == 0.0 or not beside:
            continue
        regime = next((stirred[part] for part in beside if part in stirred), None)
        if regime is None:
            text = f"the roughness of '{name}' does nothing: the stream beside it is laminar"
            found.append(Finding("note", name, text, "leave it empty, or let the flow be turbulent"))
        elif roughness > _FILLS * regime.length:
            text = f"the roughness of '{name}', {show(roughness, 'length')}, is {roughness / regime.length:.0%} of the {regime.of}"
            remedy = "draw what stands out from the wall as parts; equivalent sand roughness is known up to a twentieth"
            found.append(Finding("check", name, text, remedy))
    return found


def findings_of_ribs(resolved: ResolvedCase, streams: Sequence[Regime]) -> list[Finding]:
    """Ribs in a turbulent stream whose shear stress is limited."""
    if resolved.case.physics.turbulent_stress != "limited":
        return []
    stirred = {part for regime in streams if regime.turbulent for part in regime.parts}
    ribbed = {role.fluid for role in resolved.case.estimates if isinstance(role, HeatedDuct) and role.rib_height.strip()}
    text = "the stream does not come back to the wall between ribs: friction and heat come out about a third too low"
    remedy = "let the turbulent shear stress be free"
    fix = Fix(remedy, path="physics.turbulent_stress", value="free")
    return [Finding("check", part, text, remedy, ORDER_OF_FLOW, fix) for part in sorted(ribbed & stirred)]


def findings_of_jets(resolved: ResolvedCase, streams: Sequence[Regime]) -> list[Finding]:
    """Jets that strike walls, whose turbulence is made by strain alone."""
    if resolved.case.physics.turbulent_production != "strain" or follows_layers(resolved, streams):
        return []
    stirred = {part for regime in streams if regime.turbulent for part in regime.parts}
    striking = {role.fluid for role in resolved.case.estimates if isinstance(role, ImpingingJet)}
    text = "too much turbulence is made where the jet strikes: heat comes out a tenth to a third too high there"
    remedy = "let production be by strain that turns"
    fix = Fix(remedy, path="physics.turbulent_production", value="turning")
    return [Finding("check", part, text, remedy, ORDER_OF_FLOW, fix) for part in sorted(striking & stirred)]


def findings_of_layers(resolved: ResolvedCase, ledger: Sequence[LedgerRow], *, followed: bool) -> list[Finding]:
    """First cells that lie between the layers that wall treatment and model know well, or where layers are `followed`, too far."""
    found = []
    coarse = resolved.case.grid.layers == "coarse"
    for row in ledger:
        if row.key.quantity != "mean_y_plus" or row.solved is None:
            continue
        plus, wall = row.solved, row.key.place
        if resolved.roughness(wall) > 0.0:
            # Within the roughness no layer is resolved.
            continue
        if followed and plus > _FOLLOWED:
            text = f"the first cells along '{wall}' are at y⁺ {plus:.1f}, mean: where its layer turns turbulent is not known (1)"
            fix = Fix("resolve layers", path="grid.layers", value="resolved") if coarse else refine(wall)
            found.append(Finding("check", wall, text, "resolve its layer, or take it for turbulent all along", fix=fix))
            continue
        if not coarse and plus > _RESOLVED:
            text = f"the first cells along '{wall}' are at y⁺ {plus:.1f}, mean: the layer next to it is not resolved (1)"
            found.append(Finding("check", wall, text, "grid finer there, or choose coarse layers", fix=refine(wall)))
        elif coarse and plus < _LOGARITHMIC:
            # Measured there only: friction within 1 %, heat 2.5 % too high at y⁺ 10.
            text = f"the first cells along '{wall}' are at y⁺ {plus:.1f}, mean: nearer than coarse layers have them (30 to 100)"
            remedy = "heat is within 3% of a resolved layer where a stream is developed; resolve it where that is not enough"
            found.append(Finding("note", wall, text, remedy))
        elif plus > _FAR:
            text = f"the first cells along '{wall}' are at y⁺ {plus:.0f}, mean: beyond the logarithmic range"
            found.append(Finding("check", wall, text, "grid finer there", fix=refine(wall)))
    return found


def _number(regime: Regime) -> str:
    return f"{'Rayleigh' if regime.weight else 'Reynolds'} number {regime.number:,.3g} on the {regime.of}"
