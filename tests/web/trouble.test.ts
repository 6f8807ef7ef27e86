import { useTrouble } from '@/shared/trouble'

describe('what was refused', () => {
  it('is told on the page, or on the sheet that lies over it, and never on both', () => {
    const { trouble, sheets, onPage } = useTrouble()
    trouble.value = 'no'
    expect(onPage.value).toBe('no')
    sheets.value = 1
    expect(onPage.value).toBeNull()
    sheets.value = 0
    expect(onPage.value).toBe('no')
    expect(useTrouble().trouble).toBe(trouble)
  })
})
