from generated import AuthenticatedClient
from generated.api.packets import change_packet, get_packet, list_packets, note_packet
from generated.models.life import Life
from generated.models.note import Note
from generated.models.packet_change import PacketChange
from generated.models.packet_shown import PacketShown
from generated.models.turn import Turn


def work(client: AuthenticatedClient) -> str:
    noted = note_packet.sync(client=client, body=Note(title="Slow"), idempotency_key="alert-1")
    assert isinstance(noted, PacketShown)
    page = list_packets.sync(client=client, life=Life.DRAFTING, turn=Turn.OURS)
    read = get_packet.sync_detailed(noted.number, client=client)
    changed = change_packet.sync(
        noted.number,
        client=client,
        body=PacketChange(title="Slower"),
        if_match=read.headers["ETag"],
    )
    assert isinstance(changed, PacketShown) and page is not None
    title: str = changed.title
    return title
