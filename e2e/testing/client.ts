/** Somebody who is signed in and asks the server past the browser: for what a test has to know beside what it sees. */
export interface Client {
  text(path: string): Promise<string>;
}

export async function signedIn(address: string, login: string): Promise<Client> {
  const response = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ login, password: 'lantern-reef' }),
  });
  const cookie = response.headers.get('set-cookie')!.split(';')[0]!;
  return {
    async text(path) {
      const answer = await fetch(address + path, { headers: { Cookie: cookie } });
      if (!answer.ok) throw new Error(`${path} gave ${answer.status}`);
      return answer.text();
    },
  };
}
