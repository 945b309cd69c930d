using System.Net;
using System.Net.Sockets;

namespace Junctra.StandIns;

/// <summary>
/// Ports of phones that come and go. A phone whose port is closed refuses connections, but no other program may be given that port
/// meanwhile: whoever connected then would speak with a stranger.
/// </summary>
public static class LoopbackPort
{
    /// <summary>Reserves a port without listening on it.</summary>
    /// <param name="port">The port; 0 for any free one.</param>
    /// <returns>What reserves it until it is disposed of; its local end names the port.</returns>
    /// <exception cref="SocketException">Somebody else has it.</exception>
    public static Socket Reserve(int port)
    {
        var socket = new Socket(AddressFamily.InterNetwork, SocketType.Stream, ProtocolType.Tcp);
        Share(socket);
        socket.Bind(new IPEndPoint(IPAddress.Loopback, port));
        return socket;
    }

    /// <summary>Lets a socket be bound to a port that was reserved so.</summary>
    public static void Share(Socket socket) => socket.SetSocketOption(SocketOptionLevel.Socket, SocketOptionName.ReuseAddress, true);
}
