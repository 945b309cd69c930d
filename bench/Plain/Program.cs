using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;

// What a write is held against: a plain program that reads a file, digests it, and sends it through a loopback socket to one that
// stores it. `store PORT FILE` takes one file and ends; `send FILE PORT` sends it and prints its digest.
const int BufferBytes = 1 << 18;
var buffer = new byte[BufferBytes];

if (args is ["store", var storePort, var path])
{
    using var listener = new TcpListener(IPAddress.Loopback, int.Parse(storePort));
    listener.Start();
    using var from = listener.AcceptTcpClient();
    using var stream = from.GetStream();
    using var file = File.Create(path);
    for (int count; (count = stream.Read(buffer)) > 0; )
        file.Write(buffer, 0, count);
    file.Flush();
    stream.WriteByte(1);
    return 0;
}

if (args is ["send", var source, var sendPort])
{
    using var file = File.OpenRead(source);
    using var to = new TcpClient("127.0.0.1", int.Parse(sendPort));
    using var stream = to.GetStream();
    using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    for (int count; (count = file.Read(buffer)) > 0; )
    {
        digest.AppendData(buffer, 0, count);
        stream.Write(buffer, 0, count);
    }

    to.Client.Shutdown(SocketShutdown.Send);
    // The other end says when it has stored the last byte.
    _ = stream.ReadByte();
    Console.WriteLine(Convert.ToHexStringLower(digest.GetCurrentHash()));
    return 0;
}

Console.Error.WriteLine("Say `store PORT FILE` or `send FILE PORT`.");
return 2;
